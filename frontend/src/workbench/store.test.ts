import { beforeEach, describe, expect, it } from "vitest";

import { useWorkbench } from "./store";
import { otherStep } from "./steps";

describe("what is in hand", () => {
  beforeEach(() => useWorkbench.getState().reset());

  it("takes a pick with its bits", () => {
    useWorkbench.getState().setPick({
      pick: { patches: [1] },
      words: "1 patch",
      faces: 3,
      parts: 1,
      area_m2: 2.5,
      mask: btoa(String.fromCharCode(0b1011, 0xff)),
    });
    const { pick } = useWorkbench.getState();
    expect([...pick.mask]).toEqual([11, 255]);
    expect(pick.rule).toEqual({ patches: [1] });
  });

  it("is put down as a whole: nothing is carried to the next project", () => {
    const before = { ...useWorkbench.getState() };
    useWorkbench.getState().set({ rows: ["F1"], look: "checker", crease: 12, level: "part", squareMm: 5 });
    useWorkbench.getState().goTo("top", true);
    useWorkbench.getState().reset();
    expect(useWorkbench.getState()).toEqual(before);
  });
});

describe("the checker's squares", () => {
  it("go through 1, 2, 5, 10 and back", () => {
    const up = [1, 2, 5, 10, 20].map((mm) => otherStep(mm, true));
    expect(up).toEqual([2, 5, 10, 20, 50]);
    const down = [50, 20, 10, 5, 2].map((mm) => otherStep(mm, false));
    expect(down).toEqual([20, 10, 5, 2, 1]);
  });

  it("stay within what can be drawn", () => {
    expect(otherStep(0.1, false)).toBe(0.1);
    expect(otherStep(10_000, true)).toBe(10_000);
  });
});
