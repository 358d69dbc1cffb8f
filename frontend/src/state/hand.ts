/** What is under the hand at this moment; it changes many times a second, and few look at it. */

import { create } from "zustand";
import { useShallow } from "zustand/react/shallow";

import type { Coat, Datum, Finish, Pair, Projection } from "../api/wire.gen";

/** What of a finish is under the hand now: shown at once, kept when it is let go. */
export interface Live {
  finish: string;
  datum?: Datum;
  projection?: Projection;
  turn_deg?: number;
  offset_mm?: Pair;
  scale?: Pair;
  coats?: Coat[];
  /** Let go, and on its way to the server. */
  settling?: boolean;
}

export interface HandState {
  live: Live | null;
  /** How many previews the view has shown; for whoever watches that they come. */
  previews: number;
  /** The face under the pointer. */
  hovered: number | null;
  /** The revision that the view shows. */
  shown: number | null;
}

export const HAND_START: HandState = { live: null, previews: 0, hovered: null, shown: null };

export const useHand = create<HandState>(() => HAND_START);

/** What is under the hand of one finish; null for every other. */
export const liveOf = (key: string | undefined) => (state: HandState) =>
  state.live?.finish === key ? state.live : null;

/**
 * Finishes with what of these fields is under the hand just now. Who shows one field is not drawn anew while another moves.
 */
export function useUnderHand(finishes: Finish[], ...fields: (keyof Live & keyof Finish)[]): Finish[] {
  const key = finishes[0]?.key;
  const live = useHand(
    useShallow(({ live }): Live | null => {
      if (live?.finish !== key || !live || fields.every((field) => live[field] === undefined)) return null;
      return { finish: live.finish, ...Object.fromEntries(fields.map((field) => [field, live[field]])) };
    }),
  );
  return live ? finishes.map((finish) => withLive(finish, live)) : finishes;
}

/** The finish as it is under the hand. */
export function withLive(finish: Finish, live: Live | null): Finish {
  if (live?.finish !== finish.key) return finish;
  const { datum, projection, turn_deg, offset_mm, scale, coats } = live;
  const out = {
    ...finish,
    ...(datum && { datum }),
    ...(projection && { projection }),
    ...(turn_deg !== undefined && { turn_deg }),
    ...(offset_mm && { offset_mm }),
    ...(scale && { scale }),
    ...(coats && { coats }),
  };
  if (scale) {
    const factor = [0, 1].map((k) => Math.abs(scale[k]! / finish.scale[k]!));
    out.repeat_mm = [finish.repeat_mm[0] * factor[0]!, finish.repeat_mm[1] * factor[1]!];
  }
  return out;
}
