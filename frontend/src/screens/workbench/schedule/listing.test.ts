import { describe, expect, it } from "vitest";

import type { Figures, Finish, Material } from "../../../api/wire.gen";
import { plainFinish } from "../../../model/plainFinish";
import { SCHEDULE_START, type ScheduleView } from "../../../state/scheduleView";
import { listed } from "./listing";

const material = (key: string, name: string) => ({ key, name }) as Material;
const MATERIALS = { oak: material("oak", "Oak, planed"), brick: material("brick", "Red brick") };

function finish(key: string, of: string, more: Partial<Finish> = {}): Finish {
  return { ...plainFinish(of), key, name: `${of} ${key}`, faces: 1, ...more };
}

const FINISHES = [
  finish("F1", "oak", { area_m2: 3 }),
  finish("F2", "brick", { area_m2: 1, on: false }),
  finish("F10", "oak", { area_m2: 2, pick_words: "the south wall" }),
  finish("F3", "brick", { area_m2: 9, faces: 0 }),
];
const figures = { F1: { smeared_m2: 0.5, mirrored_m2: 0, true_share: 1, seams_m: 2 } as Figures };

function keys(view: Partial<ScheduleView>): string[] {
  const lines = listed(FINISHES, { ...SCHEDULE_START, ...view }, { materials: MATERIALS, figures });
  return lines.map((line) => (line.kind === "row" ? line.finish.key : `${line.name} ${line.rows}`));
}

describe("the schedule as it is listed", () => {
  it("keeps its own order until another is asked for", () => {
    expect(keys({})).toEqual(["F1", "F2", "F10", "F3"]);
    expect(keys({ sortBy: "area" })).toEqual(["F2", "F10", "F1", "F3"]);
    expect(keys({ sortBy: "name" })).toEqual(["F2", "F3", "F1", "F10"]);
    expect(keys({ sortBy: "seams", downwards: true })[0]).toBe("F1");
  });

  it("finds rows by all words, wherever they stand", () => {
    expect(keys({ search: "oak wall" })).toEqual(["F10"]);
    expect(keys({ search: "PLANED" })).toEqual(["F1", "F10"]);
    expect(keys({ search: "slate" })).toEqual([]);
  });

  it("filters by what is wrong, off, or nowhere", () => {
    expect(keys({ filter: "wrong" })).toEqual(["F1"]);
    expect(keys({ filter: "off" })).toEqual(["F2"]);
    expect(keys({ filter: "nowhere" })).toEqual(["F3"]);
  });

  it("folds the rows of one material under its name", () => {
    expect(keys({ grouped: true })).toEqual(["Oak, planed 2", "F1", "F10", "Red brick 2", "F2", "F3"]);
    expect(keys({ grouped: true, foldedMaterials: ["oak"] })).toEqual(["Oak, planed 2", "Red brick 2", "F2", "F3"]);
  });
});
