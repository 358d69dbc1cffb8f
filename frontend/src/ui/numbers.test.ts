import { describe, expect, it } from "vitest";

import { area, count, faceArea, mm, percent, plain, ratio } from "./numbers";

describe("figures as they are shown", () => {
  it("drop zeros that say nothing", () => {
    expect([plain(90), plain(12.5), plain(0.1 + 0.2), plain(1200)]).toEqual(["90", "12.5", "0.3", "1200"]);
    expect(plain(-0.0001)).toBe("0");
  });

  it("give small lengths more places", () => {
    expect([mm(0.1254), mm(13521.536), mm(-4.5)]).toEqual(["0.125", "13521.54", "-4.5"]);
  });

  it("show the area of one face, however small", () => {
    expect([0, 8.3e-8, 4.9e-6, 0.0715, 29.4].map(faceArea)).toEqual([
      "0.00 m²",
      "0.083 mm²",
      "4.9 mm²",
      "715 cm²",
      "29.40 m²",
    ]);
  });

  it("show small areas in cm²", () => {
    expect([area(29.4), area(0), area(0.0715), area(0.00001), area(-1e-13)]).toEqual([
      "29.40 m²",
      "0.00 m²",
      "715 cm²",
      "0.1 cm²",
      "0.00 m²",
    ]);
  });

  it("never round up to everything", () => {
    expect([ratio(1), ratio(1.158), ratio(0.945), ratio(1.0001), ratio(0.9999), ratio(1 + 1e-12)]).toEqual([
      "100 %",
      "115.8 %",
      "94.5 %",
      "100.1 %",
      "99.9 %",
      "100 %",
    ]);
    expect([percent(1), percent(0.99999), percent(0.389), percent(0)]).toEqual(["100 %", "99.9 %", "38.9 %", "0 %"]);
  });

  it("group large counts", () => {
    expect(count(42436)).toBe("42,436");
  });
});
