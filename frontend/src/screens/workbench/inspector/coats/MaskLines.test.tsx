// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";

import type { Mask } from "../../../../api/wire.gen";
import { MASK_PANELS } from "../../../../coats/maskKinds";
import { MaskLines } from "./MaskLines";

afterEach(cleanup);

const FADE: Mask = { fade: { from_mm: [0, 0, 100], to_mm: [0, 0, 900], ease: "linear" } };
const EDGES: Mask = { edges: { kind: "convex", angle_deg: 30, within_mm: 5, soft_mm: 10 } };

function shown(where: Mask | null) {
  const set = vi.fn<(where: Mask | null) => Promise<void>>(() => Promise.resolve());
  const add = vi.fn(() => Promise.resolve());
  render(<MaskLines where={where} materials={[]} add={add} set={set} brush={<span>the brush</span>} />);
  return { set, add };
}

test("a coat without a mask lies all over, and says so", () => {
  shown(null);
  expect(screen.getByText("It lies all over.")).toBeTruthy();
});

test("a mask shows every number that it states", () => {
  shown({ every: [FADE, EDGES] });
  for (const kind of ["fade", "edges"] as const) {
    for (const { label } of MASK_PANELS[kind].fields)
      expect(screen.getAllByText(label, { exact: false }).length).toBeGreaterThan(0);
  }
});

test("a mask is turned over, and over again", () => {
  const { set } = shown(FADE);
  fireEvent.click(screen.getByLabelText("inverse"));
  expect(set).toHaveBeenLastCalledWith({ not: FADE });
  cleanup();
  const second = shown({ not: FADE });
  fireEvent.click(screen.getByLabelText("inverse"));
  expect(second.set).toHaveBeenLastCalledWith(FADE);
});

test("of two masks one is left when the other is taken off, and of one none", () => {
  const { set } = shown({ any: [FADE, EDGES] });
  fireEvent.click(screen.getAllByLabelText("Take this mask off")[0]!);
  expect(set).toHaveBeenLastCalledWith(EDGES);
  cleanup();
  const last = shown(EDGES);
  fireEvent.click(screen.getByLabelText("Take this mask off"));
  expect(last.set).toHaveBeenLastCalledWith(null);
});

test("a choice is sent with all that the mask states beside it", () => {
  const { set } = shown({ every: [FADE, { not: EDGES }] });
  fireEvent.click(screen.getByText("Inner"));
  expect(set).toHaveBeenLastCalledWith({
    every: [FADE, { not: { edges: { kind: "concave", angle_deg: 30, within_mm: 5, soft_mm: 10 } } }],
  });
});

test("what is drawn has a brush", () => {
  shown({ strokes: { lines: [], soft_mm: 20 } });
  expect(screen.getByText("the brush")).toBeTruthy();
});
