// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";

import type { FinishChange } from "../../../api/edits";
import { plainFinish } from "../../../model/plainFinish";
import { SheetLines } from "./SheetLines";

function shown(...turns: number[]) {
  const asked: FinishChange[] = [];
  const take = (what: FinishChange) => void asked.push(what);
  const finishes = turns.map((turn_deg, at) => ({ ...plainFinish("oak"), key: `F${at + 1}`, turn_deg }));
  const turn = vi.fn();
  render(<SheetLines finishes={finishes} change={(what) => Promise.resolve(take(what))} now={take} turn={turn} />);
  return { asked, turn };
}

const type = (label: string, text: string) => {
  fireEvent.change(screen.getByLabelText(label), { target: { value: text } });
  fireEvent.blur(screen.getByLabelText(label));
};

describe("the lines of the sheet", () => {
  afterEach(cleanup);

  it("ask for one edit a control", () => {
    const { asked, turn } = shown(30);
    type("Turn", "1/4turn");
    type("Repeat width", "1.8m");
    type("Offset up", "450/2");
    fireEvent.click(screen.getByLabelText("Flip along"));
    fireEvent.click(screen.getByLabelText("show the sheet once"));
    fireEvent.click(screen.getByLabelText("Turn back by 90 degrees"));
    expect(asked).toEqual([
      { kind: "turn_to", turn_deg: "1/4turn" },
      { kind: "repeat", repeat_mm: ["1.8m", null], linked: true },
      { kind: "offset", offset_mm: [null, "450/2"] },
      { kind: "flip", way: "along" },
      { kind: "tile", tile: false },
    ]);
    expect(turn.mock.calls).toEqual([[-90]]);
  });

  it("keep proportions only where that is wanted", () => {
    const { asked } = shown(0);
    type("Scale along", "2");
    fireEvent.click(screen.getByLabelText("keep proportions"));
    type("Scale along", "3");
    expect(asked).toEqual([
      { kind: "scale", scale: ["2", "2"] },
      { kind: "scale", scale: ["3", null] },
    ]);
  });

  it("show figures that differ as various", () => {
    shown(30, 45);
    expect(screen.getByLabelText<HTMLInputElement>("Turn").value).toBe("various");
  });
});
