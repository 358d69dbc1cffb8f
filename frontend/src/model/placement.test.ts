import { Vector3 } from "three";
import { describe, expect, it } from "vitest";

import type { Pair } from "../api/wire.gen";
import told from "./placement.fixture.json";
import { placementChange, placementMatrix, rawOf } from "./placement";

const rowOf = (m: { elements: number[] }, row: number) => [0, 3, 6].map((k) => m.elements[k + row]!);

describe("how the sheet lies", () => {
  it("is what the core says, figure by figure", () => {
    for (const { turn_deg, offset_mm, scale, matrix } of told) {
      const ours = placementMatrix({ turn_deg, offset_mm: offset_mm as Pair, scale: scale as Pair });
      matrix.forEach((row, k) => row.forEach((value, column) => expect(rowOf(ours, k)[column]).toBeCloseTo(value, 9)));
    }
  });

  it("goes from one placement to another as if laid anew", () => {
    const from = { turn_deg: 20, offset_mm: [5, 7] as Pair, scale: [2, 2] as Pair };
    const to = { turn_deg: -65, offset_mm: [300, -4] as Pair, scale: [0.5, -3] as Pair };
    const raw = new Vector3(123, 456, 1);
    const laid = raw.clone().applyMatrix3(placementMatrix(from));
    const moved = laid.applyMatrix3(placementChange(from, to));
    expect(moved.distanceTo(raw.clone().applyMatrix3(placementMatrix(to)))).toBeLessThan(1e-9);
  });

  it("is undone to the raw sheet", () => {
    const placed = { turn_deg: 33, offset_mm: [11, 22] as Pair, scale: [1.5, 0.4] as Pair };
    const [s, t] = rawOf(placed, [0, 0]);
    expect([s, t].map((v) => Number(v.toFixed(9)))).toEqual([11, 22]);
  });
});
