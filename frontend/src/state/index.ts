/** The small stores together, for what concerns several of them at once. Components read one value by a selector. */

import { deskStart, useDesk, type DeskState } from "./desk";
import { HAND_START, useHand, type HandState } from "./hand";
import { LOOK_START, useLook, type LookState } from "./look";
import { SCHEDULE_START, useScheduleView, type ScheduleView } from "./scheduleView";
import { PARTS_START, usePartsView, type PartsView } from "./partsView";
import { usePanes, type PanesState } from "./panes";
import { pickStart, usePick, type PickState } from "./pick";

type All = PickState & LookState & HandState & DeskState & PanesState & ScheduleView & PartsView;

interface Held {
  follow: (listener: () => void) => () => void;
  now: () => object;
  set: (own: object) => void;
  start: () => object;
}

const STORES: Held[] = [
  { follow: usePick.subscribe, now: usePick.getState, set: (own) => usePick.setState(own), start: pickStart },
  { follow: useLook.subscribe, now: useLook.getState, set: (own) => useLook.setState(own), start: () => LOOK_START },
  { follow: useHand.subscribe, now: useHand.getState, set: (own) => useHand.setState(own), start: () => HAND_START },
  { follow: useDesk.subscribe, now: useDesk.getState, set: (own) => useDesk.setState(own), start: deskStart },
  {
    follow: useScheduleView.subscribe,
    now: useScheduleView.getState,
    set: (own) => useScheduleView.setState(own),
    start: () => SCHEDULE_START,
  },
  {
    follow: usePartsView.subscribe,
    now: usePartsView.getState,
    set: (own) => usePartsView.setState(own),
    start: () => PARTS_START,
  },
  // How the panes are arranged is a person's, and never put down.
  { follow: usePanes.subscribe, now: usePanes.getState, set: (own) => usePanes.setState(own), start: () => ({}) },
];

/** Puts values where they belong; a store that none of them concerns tells nobody. */
export function put(what: Partial<All>) {
  for (const { now, set } of STORES) {
    const held = now();
    const own = Object.entries(what).filter(([name]) => name in held);
    if (own.length) set(Object.fromEntries(own));
  }
}

/** Everything as it is now, for what happens on a press; components do not follow it. */
export const current = (): All => ({
  ...usePick.getState(),
  ...useLook.getState(),
  ...useHand.getState(),
  ...useDesk.getState(),
  ...usePanes.getState(),
  ...useScheduleView.getState(),
  ...usePartsView.getState(),
});

/** Calls back whenever anything here changes; the answer stops it. */
export function follow(listener: () => void) {
  const stops = STORES.map((store) => store.follow(listener));
  return () => stops.forEach((stop) => stop());
}

/** Empty hands, but for what a person chose to work with. */
export const reset = () => STORES.forEach(({ set, start }) => set(start()));
