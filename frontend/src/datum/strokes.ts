/** Strokes that a sheet follows, bent by hand after they were drawn, and how far they reach. */

import { Vector3 } from "three";

import type { Pair, Triple } from "../api/wire.gen";
import { mmAPixel, modelAt, pixelOf, type Eye } from "../model/eye";
import type { Lined } from "../model/lined";
import type { Motion } from "./motions";

/** Grips along a stroke, both ends included. */
const GRIPS = 5;

/** A place of a stroke nearer to what the eye meets there than this share of its distance is seen. */
const SEEN = 0.01;

/** The points of a stroke that carry its grips: both ends, and some between at even distances. */
export function gripsOf(points: Triple[]): number[] {
  const at = lengthsOf(points);
  const whole = at.at(-1)!;
  const wanted = Math.min(GRIPS, points.length);
  return Array.from({ length: wanted }, (_, k) => {
    const share = (whole * k) / (wanted - 1);
    return at.reduce((best, length, row) => (Math.abs(length - share) < Math.abs(at[best]! - share) ? row : best), 0);
  });
}

/** How far along the stroke each of its points lies, in mm. */
function lengthsOf(points: Triple[]): number[] {
  let sum = 0;
  return points.map((point, k) => {
    if (k > 0) sum += Math.hypot(...([0, 1, 2] as const).map((axis) => point[axis] - points[k - 1]![axis]));
    return sum;
  });
}

/** Moves a point of a stroke over the surface; what lies near it goes along, less the farther away. */
export function bendStroke(eye: Eye, laid: Lined, line: number, row: number, [x, y, z]: Triple): Motion {
  const points = laid.lines[line]!.points;
  const at = lengthsOf(points);
  const wide = at.at(-1)! / (GRIPS - 1);
  const begun = points.map(([a, b, c]) => new Vector3(a - x, b - y, c - z));
  const pixels = begun.map((place) => pixelOf(eye, place).at);
  const shares = at.map((length) => {
    const away = Math.abs(length - at[row]!) / Math.max(wide, 1e-9);
    return away < 1 ? 0.5 + 0.5 * Math.cos(Math.PI * away) : 0;
  });
  const seen = begun.map((place, k) => {
    const hit = shares[k]! > 0 ? modelAt(eye, pixels[k]!) : null;
    return hit !== null && hit.point.distanceTo(place) < SEEN * place.distanceTo(eye.camera!.position);
  });
  const put = (next: Triple[]) => ({
    ...laid,
    lines: laid.lines.map((one, k) => (k === line ? { points: next } : one)),
  });
  return {
    label: "Grain line",
    unit: "mm",
    move: (pixel: Pair) => {
      const [dx, dy] = [pixel[0] - pixels[row]![0], pixel[1] - pixels[row]![1]];
      const own = modelAt(eye, pixel);
      if (!own) return null;
      const next = points.map((point, k): Triple => {
        const share = shares[k]!;
        if (share === 0 || (k !== row && !seen[k])) return point;
        const hit = modelAt(eye, [pixels[k]![0] + share * dx, pixels[k]![1] + share * dy]);
        return hit ? [hit.point.x + x, hit.point.y + y, hit.point.z + z] : point;
      });
      return { change: { projection: put(next) }, values: next[row]!, at: "the surface" };
    },
    typed: ([a = 0, b = 0, c = 0]) => {
      const next = points.map((point, k): Triple => (k === row ? [a, b, c] : point));
      return { change: { projection: put(next) }, values: [a, b, c] };
    },
  };
}

/** How far lines reach, by the distance of the hand from the middle of one of them. areaMm2: of the surface laid. */
export function stretchReach(eye: Eye, laid: Lined, from: Triple, areaMm2: number, [x, y, z]: Triple): Motion {
  const side = Math.sqrt(areaMm2);
  const middle = new Vector3(from[0] - x, from[1] - y, from[2] - z);
  const { at } = pixelOf(eye, middle);
  const scale = mmAPixel(eye, middle);
  const put = (mm: number) => {
    const reach = Math.min(Math.max(Math.round((mm / side) * 1000) / 1000, 0.01), 10);
    return { change: { projection: { ...laid, reach } }, values: [reach * side] };
  };
  return {
    label: "Lines reach",
    unit: "mm",
    move: (pixel: Pair) => put(Math.hypot(pixel[0] - at[0], pixel[1] - at[1]) * scale),
    typed: ([mm = 0]) => put(mm),
  };
}
