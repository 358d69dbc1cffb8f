import { describe, expect, it } from "vitest";

import { arranged, type Label } from "./labels";

const SIZE = [800, 600] as const;

describe("the written sizes of a datum", () => {
  it("stay where they belong while there is room", () => {
    const labels: Label[] = [
      { text: "12000", at: [100, 100] },
      { text: "6000", at: [300, 200] },
    ];
    expect(arranged(labels, [], ...SIZE)).toEqual(labels);
  });

  it("never lie over each other, nor over a grip", () => {
    const labels = ["12000", "6000", "3625", "x", "y", "z"].map((text): Label => ({ text, at: [200, 200] }));
    const placed = arranged(labels, [[200, 200]], ...SIZE);
    expect(placed.length).toBeGreaterThan(2);
    for (const [k, a] of placed.entries()) {
      expect(Math.hypot(a.at[0] - 200, a.at[1] - 200)).toBeGreaterThan(9);
      for (const b of placed.slice(k + 1)) {
        const apart = [Math.abs(a.at[0] - b.at[0]), Math.abs(a.at[1] - b.at[1])];
        expect(apart[1]! >= 17 || apart[0]! >= ((a.text.length + b.text.length) * 7.4) / 2).toBe(true);
      }
    }
  });

  it("are left out rather than cut off by the edge of the view", () => {
    expect(arranged([{ text: "12000", at: [-300, 50] }], [], ...SIZE)).toEqual([]);
    const [moved] = arranged([{ text: "12000", at: [400, 4] }], [], ...SIZE);
    expect(moved!.at[1]).toBeGreaterThanOrEqual(8);
  });
});
