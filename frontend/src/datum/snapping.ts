/** Snapping while dragging: to round angles, and to places that the hand comes near to. */

import type { Pair } from "../api/wire.gen";

/** Within this many degrees of a multiple of 15 an angle takes it. */
const NEAR_DEG = 3;
export const NEAR_PIXELS = 11;

/** The angle, or the multiple of 15 degrees that it is near to; quarter turns hold from further off. */
export function snappedAngle(degrees: number): number {
  const quarter = Math.round(degrees / 90) * 90;
  if (Math.abs(degrees - quarter) <= NEAR_DEG * 2) return quarter;
  const step = Math.round(degrees / 15) * 15;
  return Math.abs(degrees - step) <= NEAR_DEG ? step : degrees;
}

export interface Candidate<T> {
  what: string;
  at: T;
  pixel: Pair;
}

/** The candidate nearest to a pixel, where one is near. */
export function nearest<T>(candidates: Candidate<T>[], pixel: Pair): Candidate<T> | null {
  let best: Candidate<T> | null = null;
  let least = NEAR_PIXELS;
  for (const candidate of candidates) {
    const off = Math.hypot(candidate.pixel[0] - pixel[0], candidate.pixel[1] - pixel[1]);
    if (off <= least) [best, least] = [candidate, off];
  }
  return best;
}

/** A length in mm rounded to what a hand can mean at this many mm a pixel: 1, 5, 10, 50 … */
export function handy(mm: number, mmAPixel: number): number {
  const power = 10 ** Math.floor(Math.log10(Math.max(mmAPixel, 1e-6)));
  const step = mmAPixel <= power ? power : mmAPixel <= 5 * power ? 5 * power : 10 * power;
  return Number((Math.round(mm / step) * step).toFixed(6));
}
