import { Ray, Vector3 } from "three";
import { describe, expect, it } from "vitest";

import type { Chart, Datum, Pair } from "../api/wire.gen";
import { angleAbout, axesOf, chartTowards, datumMatrix, meets, movedBy, placeOn, sheetAt, turnedBy } from "./frame";
import { handy, nearest, snappedAngle } from "./snapping";

const DATUM: Datum = { origin_mm: [10, 20, 30], x_axis: [2, 0.5, 0], z_axis: [0, 0, 3] };

describe("a datum's frame", () => {
  it("is orthonormal and right-handed, whatever lengths its axes were given", () => {
    const [x, y, z] = axesOf(DATUM);
    expect(x.dot(y)).toBeCloseTo(0);
    expect(x.clone().cross(y).distanceTo(z)).toBeLessThan(1e-12);
    expect(new Vector3(0, 0, 5).applyMatrix4(datumMatrix(DATUM)).toArray()).toEqual([10, 20, 35]);
  });

  it("is turned about its own axes and moved without turning", () => {
    const turned = turnedBy({ origin_mm: [0, 0, 0], x_axis: [1, 0, 0], z_axis: [0, 0, 1] }, 2, 90);
    expect(new Vector3(...turned.x_axis).distanceTo(new Vector3(0, 1, 0))).toBeLessThan(1e-12);
    const over = turnedBy({ origin_mm: [0, 0, 0], x_axis: [1, 0, 0], z_axis: [0, 0, 1] }, 0, 90);
    expect(new Vector3(...over.z_axis).distanceTo(new Vector3(0, -1, 0))).toBeLessThan(1e-12);
    expect(movedBy(DATUM, new Vector3(1, 1, 1)).origin_mm).toEqual([11, 21, 31]);
  });

  it("tells angles with their sign", () => {
    const z = new Vector3(0, 0, 1);
    expect(angleAbout(z, new Vector3(1, 0, 4), new Vector3(0, 2, -1))).toBeCloseTo(90);
    expect(angleAbout(z, new Vector3(0, 1, 0), new Vector3(1, 0, 0))).toBeCloseTo(-90);
  });
});

const flat: Chart = {
  shape: "flat",
  origin: [0, -5, 0],
  along: [1, 0, 0],
  up: [0, 0, 1],
  out: [0, -1, 0],
  radius_mm: 0,
  along_mm: 0,
};
const rolled: Chart = { ...flat, shape: "cylinder", radius_mm: 100, along_mm: 110 };
const ball: Chart = { ...flat, shape: "sphere", radius_mm: 100, along_mm: 100 };

describe("the sides that a sheet lies on", () => {
  it("lay and read the same place", () => {
    for (const chart of [flat, rolled, ball]) {
      const there: Pair = [37, -12];
      sheetAt(chart, placeOn(chart, there)).forEach((v, k) => expect(v).toBeCloseTo(there[k]!));
    }
  });

  it("are met by a ray where it comes to them first", () => {
    const from = (x: number, y: number, z: number) => new Ray(new Vector3(x, y, z), new Vector3(0, 1, 0));
    expect(meets(flat, from(3, -500, 4))!.toArray()).toEqual([3, -5, 4]);
    expect(meets(rolled, from(60, -500, 4))!.y).toBeCloseTo(-80);
    expect(meets(ball, from(0, -500, 60))!.y).toBeCloseTo(-80);
    expect(meets(ball, from(0, -500, 160))).toBeNull();
  });

  it("are drawn where they face the eye", () => {
    const back: Chart = { ...flat, out: [0, 1, 0] };
    expect(chartTowards([back, flat], new Vector3(0.3, -0.8, 0.2))).toBe(flat);
    expect(chartTowards([rolled], new Vector3(0, 0, 1))).toBe(rolled);
  });
});

describe("snapping", () => {
  it("takes multiples of 15 degrees from near by, quarter turns from further off", () => {
    expect([14, 31, 50, 84.5, 95, -88].map(snappedAngle)).toEqual([15, 30, 50, 90, 90, -90]);
  });
  it("takes the nearest place within reach, and none beyond", () => {
    const places = [
      { what: "a", at: 1, pixel: [0, 0] as Pair },
      { what: "b", at: 2, pixel: [6, 0] as Pair },
    ];
    expect(nearest(places, [4, 0])?.what).toBe("b");
    expect(nearest(places, [40, 0])).toBeNull();
  });
  it("rounds lengths to what a hand can mean", () => {
    expect(handy(123.4, 0.8)).toBe(123);
    expect(handy(123.4, 3)).toBe(125);
    expect(handy(123.4, 8)).toBe(120);
  });
});
