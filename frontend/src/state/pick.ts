/** The pick in hand, how the next one is made, and what is out of sight. */

import { create } from "zustand";
import { createJSONStorage, persist } from "zustand/middleware";

import type { Level, LiesThere, Picked, Pick as PickRule, Way } from "../api/wire.gen";

export interface PickInHand {
  rule: PickRule;
  words: string;
  faces: number;
  parts: number;
  areaM2: number;
  /** The finishes that lie there, the largest first. */
  lies: LiesThere[];
  /** One bit a face, the lowest first. */
  mask: Uint8Array;
}

export const NOTHING: PickInHand = {
  rule: { faces: [] },
  words: "nothing",
  faces: 0,
  parts: 0,
  areaM2: 0,
  lies: [],
  mask: new Uint8Array(0),
};

export const CREASE_DEG = 30;

/** How what is pointed at changes the pick. */
export type ClickWay = Extract<Way, "replace" | "add" | "remove" | "keep">;

/** How the pointer picks: by a click, or by an outline drawn over the view. */
export type Tool = "click" | "rectangle" | "outline";

/** How much of the pick does not show from where the eye stands. */
export interface Unseen {
  faces: number;
  areaM2: number;
}

export interface PickState {
  pick: PickInHand;
  tool: Tool;
  level: Level;
  how: ClickWay;
  /** Whether an outline takes what lies behind too, and only what lies wholly within it. */
  through: boolean;
  whole: boolean;
  /** What an outline goes by, whatever a click stands for. */
  outlined: "face" | "patch" | "part";
  crease: number;
  angle: number;
  /** Null until it is known for the eye and the pick of now. */
  unseen: Unseen | null;
  /** Whether the pick shows through the model. */
  xray: boolean;
  /** Faces that are put out of sight. */
  hidden: PickInHand;
}

export const PICK_START: PickState = {
  pick: NOTHING,
  tool: "click",
  level: "patch",
  how: "replace",
  through: false,
  whole: true,
  outlined: "face",
  crease: CREASE_DEG,
  angle: 20,
  unseen: null,
  xray: false,
  hidden: NOTHING,
};

/** What stays in hand from page to page in this window; every one of them is shown where it acts. */
const chosen = ({ tool, how, level, outlined, through, whole }: PickState) => ({
  tool,
  how,
  level,
  outlined,
  through,
  whole,
});

export const usePick = create<PickState>()(
  persist(() => PICK_START, {
    name: "pivrel.pick",
    storage: createJSONStorage(() => sessionStorage),
    partialize: chosen,
  }),
);

export const pickStart = (): PickState => ({ ...PICK_START, ...chosen(usePick.getState()) });

function bits(base64: string): Uint8Array {
  return Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));
}

export const inHand = (p: Picked): PickInHand => ({
  rule: p.pick,
  words: p.words,
  faces: p.faces,
  parts: p.parts,
  areaM2: p.area_m2,
  lies: p.lies,
  mask: bits(p.mask),
});

/** Takes a pick in hand as the server answered it. */
export const takePick = (picked: Picked) => usePick.setState({ pick: inHand(picked), unseen: null });
