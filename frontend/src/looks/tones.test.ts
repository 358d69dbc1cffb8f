import { describe, expect, it } from "vitest";

import { patternSize, toneOf } from "./tones";

describe("the size at which a pattern shows", () => {
  it("is one where nothing is drawn out", () => expect(patternSize(1, 1)).toBe(1));
  it("is the inverse of the stretch that is furthest from true", () => {
    expect(patternSize(0.5, 1)).toBe(2);
    expect(patternSize(1, 4)).toBe(0.25);
    expect(patternSize(0.5, 4)).toBe(0.25);
  });
});

describe("its tone", () => {
  it("is near white where it is true, blue where squeezed, orange where stretched", () => {
    const rgb = (size: number) =>
      [1, 3, 5].map((at) => parseInt(toneOf(size).slice(at, at + 2), 16)) as [number, number, number];
    expect(Math.min(...rgb(1))).toBeGreaterThan(225);
    expect(rgb(0.5)[2]).toBeGreaterThan(rgb(0.5)[0] + 60);
    expect(rgb(2)[0]).toBeGreaterThan(rgb(2)[2] + 100);
  });
  it("ends at half and at twice", () => {
    expect(toneOf(0.01)).toBe(toneOf(0.5));
    expect(toneOf(90)).toBe(toneOf(2));
  });
});
