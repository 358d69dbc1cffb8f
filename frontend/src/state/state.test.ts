import { beforeEach, describe, expect, it } from "vitest";

import { otherStep } from "../looks/steps";
import { current, put, reset } from ".";
import { useDesk } from "./desk";
import { goTo, useLook } from "./look";
import { takePick, usePick } from "./pick";

describe("what is in hand", () => {
  beforeEach(reset);

  it("takes a pick with its bits", () => {
    takePick({
      pick: { patches: [1] },
      words: "1 patch",
      faces: 3,
      parts: 1,
      area_m2: 2.5,
      lies: [],
      mask: btoa(String.fromCharCode(0b1011, 0xff)),
    });
    const { pick } = usePick.getState();
    expect([...pick.mask]).toEqual([11, 255]);
    expect(pick.rule).toEqual({ patches: [1] });
  });

  it("is put down as a whole: nothing is carried to the next project", () => {
    const before = current();
    put({ rows: ["F1"], look: "checker", crease: 12, squareMm: 5, live: { finish: "F1", turn_deg: 3 } });
    goTo("top", true);
    expect(current()).not.toEqual(before);
    reset();
    expect(current()).toEqual(before);
  });

  it("tells only those whose own values changed", () => {
    let told = 0;
    const stop = [useDesk, useLook, usePick].map((store) => store.subscribe(() => told++));
    put({ live: { finish: "F1", turn_deg: 3 } });
    expect(told).toBe(0);
    put({ look: "grain" });
    expect(told).toBe(1);
    stop.forEach((end) => end());
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
