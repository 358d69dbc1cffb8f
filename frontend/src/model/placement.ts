/**
 * How the sheet lies on the raw laying: the one rule of the core that is repeated here, so that a turn,
 * an offset or a scale follows the hand at once. `placement.test.ts` compares it with the core's figures.
 */

import { Matrix3 } from "three";

import type { Pair } from "../api/wire.gen";

export interface Placement {
  turn_deg: number;
  offset_mm: Pair;
  scale: Pair;
}

/** The map from raw (s, t, 1) to final (s', t', 1), both in mm. */
export function placementMatrix({ turn_deg, offset_mm, scale }: Placement): Matrix3 {
  const turn = ((turn_deg % 360) + 360) % 360;
  const exact = turn % 90 === 0;
  const radians = (turn * Math.PI) / 180;
  const c = exact ? Math.round(Math.cos(radians)) : Math.cos(radians);
  const s = exact ? Math.round(Math.sin(radians)) : Math.sin(radians);
  const a = c / scale[0];
  const b = s / scale[0];
  const d = -s / scale[1];
  const e = c / scale[1];
  const [x, y] = offset_mm;
  return new Matrix3(a, b, -(a * x + b * y), d, e, -(d * x + e * y), 0, 0, 1);
}

/** Whether two placements lay every corner at the same place. */
export const samePlacement = (a: Placement, b: Placement) =>
  a.turn_deg === b.turn_deg && a.offset_mm.join() === b.offset_mm.join() && a.scale.join() === b.scale.join();

/** What takes corners laid by one placement to where another would have laid them; nothing at all where they are alike. */
export function placementChange(from: Placement, to: Placement): Matrix3 {
  if (samePlacement(from, to)) return new Matrix3();
  return placementMatrix(to).multiply(placementMatrix(from).invert());
}

/** Raw (s, t) of a final (s', t'). */
export function rawOf(placement: Placement, final: Pair): Pair {
  const m = placementMatrix(placement).invert().elements;
  return [m[0] * final[0] + m[3] * final[1] + m[6], m[1] * final[0] + m[4] * final[1] + m[7]];
}
