import { describe, expect, it } from "vitest";

import { coalesced } from "./coalesced";

const turn = () => new Promise((go) => setTimeout(go, 0));

describe("asking again and again", () => {
  it("keeps one under way and goes on with the latest only", async () => {
    const begun: number[] = [];
    const ends: (() => void)[] = [];
    const ask = coalesced((value: number) => {
      begun.push(value);
      return new Promise<void>((end) => ends.push(end));
    });
    [1, 2, 3, 4].forEach(ask);
    expect(begun).toEqual([1]);
    ends.shift()!();
    await turn();
    expect(begun).toEqual([1, 4]);
    ask(5);
    expect(begun).toEqual([1, 4]);
    ends.shift()!();
    await turn();
    expect(begun).toEqual([1, 4, 5]);
  });

  it("goes on after one that failed", async () => {
    const begun: number[] = [];
    const ask = coalesced(async (value: number) => {
      begun.push(value);
      if (value === 1) throw new Error("refused");
      await turn();
    });
    ask(1);
    ask(2);
    await turn();
    expect(begun).toEqual([1, 2]);
  });
});
