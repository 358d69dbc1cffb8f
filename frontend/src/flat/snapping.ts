/** To what a piece is drawn that is moved: joints of the sheet, and the sides of other pieces. */

import type { FlatPiece, Pair } from "../api/wire.gen";

/** By how much to move on, so that one of some places falls on one of some marks nearby; 0 where none is near. */
export function drawnTo(places: number[], marks: Iterable<number>, within: number): number {
  let best = 0;
  let least = within;
  for (const mark of marks)
    for (const place of places) {
      const off = mark - place;
      if (Math.abs(off) < least) [best, least] = [off, Math.abs(off)];
    }
  return best;
}

/** The marks of one axis: where the sheet repeats near to a place, and where other pieces begin and end. */
export function marksNear(axis: 0 | 1, places: number[], repeat: number, others: FlatPiece[]): number[] {
  const repeats = places.map((place) => Math.round(place / repeat) * repeat);
  return [...repeats, ...others.flatMap(({ box_mm }) => [box_mm[axis], box_mm[axis + 2]!])];
}

/** The shift of a box drawn to what is near. */
export function snapped(
  shift: Pair,
  box: readonly [number, number, number, number],
  repeat: Pair,
  others: FlatPiece[],
  within: number,
): Pair {
  const out: Pair = [...shift];
  for (const axis of [0, 1] as const) {
    const places = [box[axis] + shift[axis], box[axis + 2]! + shift[axis]];
    out[axis] += drawnTo(places, marksNear(axis, places, repeat[axis], others), within);
  }
  return out;
}
