/** What of the pieces is under the hand: shown at once, kept when it is let go. */

import { create } from "zustand";

import type { Pair } from "../api/wire.gen";

export interface FlatHand {
  /** The pieces that go along; none while nothing is dragged. */
  pieces: ReadonlySet<number>;
  /** About this place of the sheet they are turned, and then shifted. */
  about: Pair;
  turnDeg: number;
  shift: Pair;
  /** The laying that they were taken up from, and the finish. What shows another one is there already. */
  key: string;
  /** What the hand has come to, in words. */
  readout: string | null;
  /** A box that it draws: least s and t, greatest s and t. */
  box: [number, number, number, number] | null;
}

export const AT_REST: FlatHand = {
  pieces: new Set(),
  about: [0, 0],
  turnDeg: 0,
  shift: [0, 0],
  key: "",
  readout: null,
  box: null,
};

export const useFlatHand = create<FlatHand>(() => AT_REST);

/** Where a place comes to lie that goes along, for many of them: matrix and shift, row by row. */
export function motionOf({ about, turnDeg, shift }: FlatHand): [number, number, number, number, number, number] {
  const angle = (turnDeg * Math.PI) / 180;
  const [c, n] = [Math.cos(angle), Math.sin(angle)];
  const [x, y] = about;
  return [c, -n, x - c * x + n * y + shift[0], n, c, y - n * x - c * y + shift[1]];
}

/** Where a place comes to lie that goes along. */
export function along(hand: FlatHand, s: number, t: number): Pair {
  const [a, b, x, c, d, y] = motionOf(hand);
  return [a * s + b * t + x, c * s + d * t + y];
}
