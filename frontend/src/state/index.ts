/** The small stores together, for what concerns several of them at once. Components read one value by a selector. */

import { deskStart, useDesk, type DeskState } from "./desk";
import { HAND_START, useHand, type HandState } from "./hand";
import { LOOK_START, useLook, type LookState } from "./look";
import { pickStart, usePick, type PickState } from "./pick";

type All = PickState & LookState & HandState & DeskState;

const STORES = [
  { store: usePick, start: pickStart },
  { store: useLook, start: () => LOOK_START },
  { store: useHand, start: () => HAND_START },
  { store: useDesk, start: deskStart },
] as const;

/** Puts values where they belong; a store that none of them concerns tells nobody. */
export function put(what: Partial<All>) {
  for (const { store } of STORES) {
    const held = store.getState();
    const own = Object.entries(what).filter(([name]) => name in held);
    if (own.length) (store.setState as (own: object) => void)(Object.fromEntries(own));
  }
}

/** Everything as it is now, for what happens on a press; components do not follow it. */
export const current = (): All => ({
  ...usePick.getState(),
  ...useLook.getState(),
  ...useHand.getState(),
  ...useDesk.getState(),
});

/** Empty hands, but for what a person chose to work with. */
export const reset = () => STORES.forEach(({ store, start }) => (store.setState as (own: object) => void)(start()));
