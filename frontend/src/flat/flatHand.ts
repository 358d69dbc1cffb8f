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
}

export const AT_REST: FlatHand = { pieces: new Set(), about: [0, 0], turnDeg: 0, shift: [0, 0], key: "" };

export const useFlatHand = create<FlatHand>(() => AT_REST);

/** Where a place comes to lie that goes along. */
export function along({ about, turnDeg, shift }: FlatHand, s: number, t: number): Pair {
  const angle = (turnDeg * Math.PI) / 180;
  const [c, n] = [Math.cos(angle), Math.sin(angle)];
  const [x, y] = [s - about[0], t - about[1]];
  return [about[0] + c * x - n * y + shift[0], about[1] + n * x + c * y + shift[1]];
}
