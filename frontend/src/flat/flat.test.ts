import { beforeEach, describe, expect, it } from "vitest";

import type { FlatPiece, Pair } from "../api/wire.gen";
import { along, AT_REST } from "./flatHand";
import { approach, frame, pan, pixelAt, placeAt, useFlatEye } from "./flatEye";
import { boxOf } from "./pieces";
import { cornersAmong, ontoCorner, drawnTo, snapped } from "./snapping";

const piece = (...box_mm: [number, number, number, number]): FlatPiece => ({
  face: 0,
  faces: 1,
  area_m2: 1,
  size: 1,
  box_mm,
});

describe("the eye on the sheet", () => {
  beforeEach(() => useFlatEye.setState({ middle: [100, 50], mmPerPixel: 2, width: 400, height: 300, framed: null }));

  it("says what place a pixel shows, and back", () => {
    const eye = useFlatEye.getState();
    expect(placeAt(eye, [200, 150])).toEqual([100, 50]);
    expect(placeAt(eye, [210, 140])).toEqual([120, 70]);
    expect(pixelAt(eye, [120, 70])).toEqual([210, 140]);
  });

  it("keeps the place under the pointer while it comes closer", () => {
    const pixel: Pair = [37, 211];
    const before = placeAt(useFlatEye.getState(), pixel);
    approach(1.7, pixel);
    const after = placeAt(useFlatEye.getState(), pixel);
    expect(after[0]).toBeCloseTo(before[0], 9);
    expect(after[1]).toBeCloseTo(before[1], 9);
    expect(useFlatEye.getState().mmPerPixel).toBeCloseTo(2 / 1.7, 9);
  });

  it("goes along with the hand", () => {
    pan([10, -5]);
    expect(useFlatEye.getState().middle).toEqual([80, 40]);
  });

  it("brings all of a box into view", () => {
    frame([-1000, 0, 3000, 500], "F1");
    const eye = useFlatEye.getState();
    for (const corner of [
      [-1000, 0],
      [3000, 500],
    ] as Pair[]) {
      const [x, y] = pixelAt(eye, corner);
      expect(x).toBeGreaterThan(0);
      expect(x).toBeLessThan(400);
      expect(y).toBeGreaterThan(0);
      expect(y).toBeLessThan(300);
    }
    expect(eye.framed).toBe("F1");
  });
});

describe("pieces under the hand", () => {
  it("are turned about their middle and then shifted", () => {
    const hand = { ...AT_REST, about: [10, 10] as Pair, turnDeg: 90, shift: [5, 0] as Pair };
    const [s, t] = along(hand, 20, 10);
    expect(s).toBeCloseTo(15, 9);
    expect(t).toBeCloseTo(20, 9);
  });

  it("have a box round all of them", () => {
    expect(boxOf([])).toBeNull();
    expect(boxOf([piece(0, 0, 10, 5), piece(-3, 2, 4, 9)])).toEqual([-3, 0, 10, 9]);
  });

  it("are drawn to what is near, and to nothing that is far", () => {
    expect(drawnTo([98, 198], [100, 250], 5)).toBe(2);
    expect(drawnTo([90], [100], 5)).toBe(0);
    // Its left side comes to the other's right, its lower one to a repeat of the sheet.
    const shift = snapped([13, 597], [0, 0, 50, 40], { every: [1000, 600], from: [0, 0] }, [piece(-100, 0, 15, 40)], 6);
    expect(shift).toEqual([15, 600]);
  });
});

describe("corners of outlines", () => {
  const square = (s: number, t: number) => [
    [s, t, s + 50, t],
    [s + 50, t, s + 100, t],
    [s + 100, t, s + 100, t + 100],
    [s + 100, t + 100, s, t + 100],
    [s, t + 100, s, t],
  ];
  const rims = new Float32Array([...square(0, 0), ...square(140, 7)].flat());
  const corners = cornersAmong(rims, [0, 0, 0, 0, 0, 1, 1, 1, 1, 1]);

  it("are where it turns, and not along a side", () => {
    expect(corners).toHaveLength(8);
    expect(corners.filter(({ piece }) => piece === 0).map(({ at }) => at)).toContainEqual([100, 100]);
  });

  it("draw a moved piece onto them", () => {
    expect(ontoCorner(corners, new Set([1]), [-37, -4], 8)).toEqual([-40, -7]);
    expect(ontoCorner(corners, new Set([1]), [-20, 0], 8)).toBeNull();
  });
});
