/** What is in hand on the workbench: the pick, the rows chosen, the look. None of it outlives the page. */

import { create } from "zustand";

import type { Channel, Clip, Datum, Finish, Level, OnFace, Pair, Pick, Picked, Projection, TapeRead, Trial } from "../api/types";
import type { EyeView, SavedEye } from "../view/cameras";
import type { Look } from "../view/materials";

export interface PickInHand {
  rule: Pick;
  words: string;
  faces: number;
  parts: number;
  areaM2: number;
  /** One bit a face, the lowest first. */
  mask: Uint8Array;
}

export const NOTHING: PickInHand = {
  rule: { faces: [] },
  words: "nothing",
  faces: 0,
  parts: 0,
  areaM2: 0,
  mask: new Uint8Array(0),
};

export const CREASE_DEG = 30;

/** What of a finish is under the hand now: shown at once, kept when it is let go. */
export interface Live {
  finish: string;
  datum?: Datum;
  projection?: Projection;
  turn_deg?: number;
  offset_mm?: Pair;
  scale?: Pair;
  /** Let go, and on its way to the server. */
  settling?: boolean;
}

/** The finish as it is under the hand. */
export function withLive(finish: Finish, live: Live | null): Finish {
  if (live?.finish !== finish.key) return finish;
  const { datum, projection, turn_deg, offset_mm, scale } = live;
  const out = {
    ...finish,
    ...(datum && { datum }),
    ...(projection && { projection }),
    ...(turn_deg !== undefined && { turn_deg }),
    ...(offset_mm && { offset_mm }),
    ...(scale && { scale }),
  };
  if (scale) {
    const factor = [0, 1].map((k) => Math.abs(scale[k]! / finish.scale[k]!));
    out.repeat_mm = [finish.repeat_mm[0] * factor[0]!, finish.repeat_mm[1] * factor[1]!];
  }
  return out;
}

/** What the next click on the model is for, where it is not for picking. */
export type Errand =
  | { what: "fit-face" | "seam" | "grain-edge"; finish: string }
  | { what: "set-out"; at: "corner" | "edge" | "middle"; unit: "joint" | "centre" }
  | { what: "run-across" }
  | { what: "tape"; from: OnFace | null }
  | null;

/** The same pick laid by every projection. */
export interface Trials {
  list: Trial[];
  /** Where none of them serves the pick: what would. */
  advice: string | null;
  faces: Uint32Array;
  sheets: Float32Array[];
  pictures: string[];
  material: string;
  /** The finish whose projection is in question; without one, the pick is. */
  finish: string | null;
  pick: Pick | null;
}

/** How what is pointed at changes the pick. */
export type Way = "replace" | "add" | "remove" | "keep";

/** How the pointer picks: by a click, or by an outline drawn over the view. */
export type Tool = "click" | "rectangle" | "outline";

/** How much of the pick does not show from where the eye stands. */
export interface Unseen {
  faces: number;
  areaM2: number;
}

interface Workbench {
  tool: Tool;
  /** Whether an outline takes what lies behind too, and only what lies wholly within it. */
  through: boolean;
  whole: boolean;
  /** What an outline goes by, whatever a click stands for. */
  outlined: "face" | "patch" | "part";
  /** The material that is laid next. */
  material: string;
  angle: number;
  /** Null until it is known for the eye and the pick of now. */
  unseen: Unseen | null;
  /** Whether the pick shows through the model. */
  xray: boolean;
  /** Faces that are put out of sight. */
  hidden: PickInHand;
  clip: Clip | null;
  edges: "patches" | "faces" | "none";
  turning: boolean;
  /** Whether the list of what a newer model changed stands in the inspector's place. */
  revisionShown: boolean;
  /** Whether the list of the materials that the model brought is open, and the dialog of its unit and place. */
  sourcesShown: boolean;
  placingShown: boolean;
  live: Live | null;
  errand: Errand;
  tape: TapeRead | null;
  /** The channel that the channel look shows. */
  channel: Channel;
  /** Another material on a finish, seen beyond a line across the view. */
  compare: { finish: string; material: string; split: number } | null;
  trials: Trials | null;
  datumShown: boolean;
  spacingMm: number | null;
  hovered: number | null;
  /** How many previews the view has shown; for whoever watches that they come. */
  previews: number;
  pick: PickInHand;
  level: Level;
  how: Way;
  crease: number;
  rows: string[];
  look: Look;
  squareMm: number | null;
  going: { view: EyeView; toPick: boolean; saved?: SavedEye };
  /** The revision that the view shows. */
  shown: number | null;
  setPick: (picked: Picked) => void;
  setShown: (revision: number | null) => void;
  set: (what: Partial<InHand>) => void;
  goTo: (view: EyeView, toPick?: boolean, saved?: SavedEye) => void;
  reset: () => void;
}

type InHand = Omit<Workbench, "setPick" | "set" | "goTo" | "reset" | "setShown">;

const START: InHand = {
  tool: "click",
  through: false,
  whole: true,
  outlined: "face",
  material: "brick",
  angle: 20,
  unseen: null,
  xray: false,
  hidden: NOTHING,
  clip: null,
  edges: "patches",
  turning: false,
  revisionShown: false,
  sourcesShown: false,
  placingShown: false,
  live: null,
  errand: null,
  tape: null,
  channel: "normal",
  compare: null,
  trials: null,
  datumShown: true,
  spacingMm: null,
  hovered: null,
  previews: 0,
  pick: NOTHING,
  level: "patch",
  how: "replace",
  crease: CREASE_DEG,
  rows: [],
  look: "finish",
  squareMm: null,
  going: { view: "around", toPick: false },
  shown: null,
};

function bits(base64: string): Uint8Array {
  return Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));
}

export const inHand = (p: Picked): PickInHand => ({
  rule: p.pick,
  words: p.words,
  faces: p.faces,
  parts: p.parts,
  areaM2: p.area_m2,
  mask: bits(p.mask),
});

/** What stays in hand from page to page in this window; every one of them is shown where it acts. */
const HELD = ["tool", "how", "level", "outlined", "through", "whole", "material"] as const;
type Held = { [Name in (typeof HELD)[number]]: InHand[Name] };
const HELD_KEY = "pivrel.in-hand";

function held(): Partial<Held> {
  try {
    return JSON.parse(globalThis.sessionStorage?.getItem(HELD_KEY) ?? "{}") as Partial<Held>;
  } catch {
    return {};
  }
}

export const useWorkbench = create<Workbench>((set) => ({
  ...START,
  ...held(),
  setPick: (picked) => set({ pick: inHand(picked), unseen: null }),
  setShown: (shown) => set({ shown }),
  set: (what) => set(what),
  goTo: (view, toPick = false, saved) => set({ going: { view, toPick, saved }, turning: false }),
  reset: () => set({ ...START, ...held() }),
}));

useWorkbench.subscribe((now, before) => {
  if (HELD.every((name) => now[name] === before[name])) return;
  globalThis.sessionStorage?.setItem(HELD_KEY, JSON.stringify(Object.fromEntries(HELD.map((name) => [name, now[name]]))));
});
