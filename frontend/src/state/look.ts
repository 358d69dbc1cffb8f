/** What the view shows and from where. */

import { create } from "zustand";

import type { Channel, Clip, SavedLight } from "../api/wire.gen";
import type { LOOKS } from "../looks/registry";
import type { EyeView, SavedEye } from "./eyes";

/** What the view shows of the model: whatever the registry of looks says; this is a type alone. */
export type Look = keyof typeof LOOKS;

/** Where the sun stands, in degrees; or an overcast sky. */
export type Light = SavedLight;

export const LIGHT_START: Light = { sun_deg: 232, up_deg: 42, overcast: false };

export interface LookState {
  look: Look;
  /** The channel that the channel look shows. */
  channel: Channel;
  squareMm: number | null;
  spacingMm: number | null;
  edges: "patches" | "faces" | "none";
  clip: Clip | null;
  light: Light;
  datumShown: boolean;
  /** Another material on a finish, seen beyond a line across the view. */
  compare: { finish: string; material: string; split: number } | null;
  /** The finish that is thrown from wherever the view stands. */
  thrownFrom: string | null;
  turning: boolean;
  going: { view: EyeView; toPick: boolean; saved?: SavedEye };
}

export const LOOK_START: LookState = {
  look: "finish",
  channel: "normal",
  squareMm: null,
  spacingMm: null,
  edges: "patches",
  clip: null,
  light: LIGHT_START,
  datumShown: true,
  compare: null,
  thrownFrom: null,
  turning: false,
  going: { view: "around", toPick: false },
};

export const useLook = create<LookState>(() => LOOK_START);

/** Sends the eye to a view, of the pick alone where asked. */
export const goTo = (view: EyeView, toPick = false, saved?: SavedEye) =>
  useLook.setState({ going: { view, toPick, saved }, turning: false });
