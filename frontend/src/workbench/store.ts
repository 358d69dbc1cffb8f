/** What is in hand on the workbench: the pick, the rows chosen, the look. None of it outlives the page. */

import { create } from "zustand";

import type { Level, Pick, Picked } from "../api/types";
import type { EyeView } from "../view/cameras";
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

interface Workbench {
  pick: PickInHand;
  level: Level;
  how: "replace" | "add" | "remove";
  crease: number;
  rows: string[];
  look: Look;
  squareMm: number | null;
  going: { view: EyeView; toPick: boolean };
  /** The revision that the view shows. */
  shown: number | null;
  setPick: (picked: Picked) => void;
  setShown: (revision: number | null) => void;
  set: (what: Partial<InHand>) => void;
  goTo: (view: EyeView, toPick?: boolean) => void;
  reset: () => void;
}

type InHand = Omit<Workbench, "setPick" | "set" | "goTo" | "reset" | "setShown">;

const START: InHand = {
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

export const useWorkbench = create<Workbench>((set) => ({
  ...START,
  setPick: (p) =>
    set({
      pick: { rule: p.pick, words: p.words, faces: p.faces, parts: p.parts, areaM2: p.area_m2, mask: bits(p.mask) },
    }),
  setShown: (shown) => set({ shown }),
  set: (what) => set(what),
  goTo: (view, toPick = false) => set({ going: { view, toPick } }),
  reset: () => set(START),
}));
