/** The lines that a projection is drawn with, in datum coordinates. */

import { Vector3 } from "three";

import type { Chart, Pair, Projection, Triple } from "../api/wire.gen";
import { placeOn } from "./frame";

export interface Outline {
  points: Vector3[];
  look: "line" | "seam" | "faint";
}

export interface Measure {
  text: string;
  at: Vector3;
}

const ROUND = 48;

function circle(radius: number, place: (c: number, s: number) => Vector3): Vector3[] {
  return Array.from({ length: ROUND + 1 }, (_, k) => {
    const a = (k / ROUND) * 2 * Math.PI;
    return place(radius * Math.cos(a), radius * Math.sin(a));
  });
}

/** What projects: a rectangle, a box, a cylinder or a ball, as far as the pick reaches. */
export function projectorOutlines(projection: Projection, reach: [Triple, Triple], radius: number): Outline[] {
  const [low, high] = reach;
  switch (projection.kind) {
    case "planar": {
      const [x0, y0, x1, y1] = [low[0], low[1], high[0], high[1]];
      const corners = [
        [x0, y0],
        [x1, y0],
        [x1, y1],
        [x0, y1],
        [x0, y0],
      ].map(([x, y]) => new Vector3(x, y, 0));
      return [{ points: corners, look: "line" }];
    }
    case "cylindrical": {
      const rings = [low[2], high[2]].map((z) => ({
        points: circle(radius, (c, s) => new Vector3(c, s, z)),
        look: "line" as const,
      }));
      const sides = [0, 1, 3].map((quarter) =>
        upright(radius, (quarter * Math.PI) / 2, low[2], high[2], "faint" as const),
      );
      return [...rings, ...sides, upright(radius, Math.PI, low[2], high[2], "seam")];
    }
    case "spherical": {
      const half = Array.from({ length: ROUND / 2 + 1 }, (_, k) => {
        const a = (k / (ROUND / 2) - 0.5) * Math.PI;
        return new Vector3(-radius * Math.cos(a), 0, radius * Math.sin(a));
      });
      return [
        { points: circle(radius, (c, s) => new Vector3(c, s, 0)), look: "line" },
        { points: circle(radius, (c, s) => new Vector3(0, c, s)), look: "faint" },
        { points: half, look: "seam" },
      ];
    }
    default: {
      const sized = projection.kind === "box" && projection.corners === "wrapped" ? projection.size_mm : null;
      const a = sized ? [-sized[0] / 2, -sized[1] / 2, low[2]] : low;
      const b = sized ? [sized[0] / 2, sized[1] / 2, high[2]] : high;
      return boxEdges(a as Triple, b as Triple);
    }
  }
}

function upright(radius: number, angle: number, low: number, high: number, look: Outline["look"]): Outline {
  const points = [low, high].map((z) => new Vector3(radius * Math.cos(angle), radius * Math.sin(angle), z));
  return { points, look };
}

function boxEdges(a: Triple, b: Triple): Outline[] {
  const corner = (k: number) => new Vector3(k & 1 ? b[0] : a[0], k & 2 ? b[1] : a[1], k & 4 ? b[2] : a[2]);
  const edges: Pair[] = [];
  for (let k = 0; k < 8; k++) for (const bit of [1, 2, 4]) if (!(k & bit)) edges.push([k, k | bit]);
  return edges.map(([k, m]) => ({ points: [corner(k), corner(m)], look: "faint" }));
}

/** The sizes written on it, in mm, each where it is measured. */
export function measures(
  projection: Projection,
  reach: [Triple, Triple],
  radius: number,
  mm: (v: number) => string,
): Measure[] {
  const [low, high] = reach;
  const middle = (k: number) => (low[k]! + high[k]!) / 2;
  const size = (k: number) => mm(high[k]! - low[k]!);
  if (projection.kind === "planar") {
    return [
      { text: size(0), at: new Vector3(middle(0), low[1], 0) },
      { text: size(1), at: new Vector3(low[0], middle(1), 0) },
    ];
  }
  if (projection.kind === "spherical") return [{ text: `R ${mm(radius)}`, at: new Vector3(0, -radius, 0) }];
  if (projection.kind === "cylindrical") {
    return [
      { text: `R ${mm(radius)}`, at: new Vector3(0, radius, low[2]) },
      { text: size(2), at: new Vector3(0, -radius, middle(2)) },
      { text: "seam", at: new Vector3(-radius, 0, high[2]) },
    ];
  }
  return [
    { text: size(0), at: new Vector3(middle(0), low[1], low[2]) },
    { text: size(1), at: new Vector3(high[0], middle(1), low[2]) },
    { text: size(2), at: new Vector3(low[0], low[1], middle(2)) },
  ];
}

/** A line on a chart from one raw place to another, following its bend. */
export function sheetLine(chart: Chart, from: Pair, to: Pair): Vector3[] {
  const steps = chart.shape === "flat" ? 1 : 16;
  return Array.from({ length: steps + 1 }, (_, k) => {
    const share = k / steps;
    return placeOn(chart, [from[0] + share * (to[0] - from[0]), from[1] + share * (to[1] - from[1])]);
  });
}
