/** What lies on the desk: the rows chosen, the material to be laid next, the task of the next click, open panels. */

import { create } from "zustand";
import { createJSONStorage, persist } from "zustand/middleware";

import type { OnFace, Pair, Pick, Projection, TapeRead, Trial } from "../api/wire.gen";

/** What the next click on the model is for, where it is not for picking. */
export type ClickTask =
  | {
      what: "fit-face" | "seam" | "grain-edge" | "roll-from" | "line" | "line-edge" | "cut" | "avoid" | "straighten";
      finish: string;
    }
  | { what: "brush"; finish: string; row: number }
  | { what: "set-out"; at: "corner" | "edge" | "middle"; unit: "joint" | "centre" }
  | { what: "run-across" }
  | { what: "lay-edge"; to: "level" | "plumb" | "joined" }
  | { what: "guide"; finish: string; from: OnFace | null }
  | { what: "tie"; finish: string; sheet_mm: Pair }
  | { what: "tape"; from: OnFace | null };

/** What the pictures of the trials show. */
export type TrialLook = "finish" | "checker" | "stretch";

/** Of each face: the least and greatest stretch, and what is wrong with it by the server's numbers. */
export interface FaceTones {
  low: Float32Array;
  high: Float32Array;
  kind: Uint8Array;
}

/** The same pick laid by every projection. */
export interface Trials {
  list: Trial[];
  /** Where none of them serves the pick: what would. */
  advice: string | null;
  faces: Uint32Array;
  sheets: Float32Array[];
  /** What the stretch look tells of each face, trial by trial. */
  tones: FaceTones[];
  /** What the pictures show, and those that are drawn already, from the first on. */
  shows: TrialLook;
  pictures: Partial<Record<TrialLook, string[]>>;
  material: string;
  /** The finish whose projection is in question; without one, the pick is. */
  finish: string | null;
  pick: Pick | null;
}

export interface DeskState {
  rows: string[];
  /** What the panel shows where both a pick and a finish are in hand: the one that came last. */
  inHand: "pick" | "finish";
  /** The material that is laid next, and by which projection. */
  material: string;
  kind: Projection["kind"];
  task: ClickTask | null;
  /** The radius of the brush that coats are drawn with, mm; null until one is stated. */
  brushMm: number | null;
  /** The coat that is open in the panel, by the code of its finish and its number. */
  coat: { finish: string; row: number } | null;
  tape: TapeRead | null;
  trials: Trials | null;
  /** The trials that are under way, by the name that they were asked for with; null while none are. */
  trying: { called: string; stop: () => void } | null;
  /** Whether the list of what a newer model changed stands in the inspector's place. */
  revisionShown: boolean;
  /** Whether the list of the materials that the model brought is open, and the dialog of its unit and place. */
  sourcesShown: boolean;
  placingShown: boolean;
  /** The open dialog of the workbench: the search for a command, the page of keys, saving a picture. */
  dialog: "search" | "keys" | "picture" | null;
}

export const DESK_START: DeskState = {
  rows: [],
  inHand: "pick",
  material: "brick",
  kind: "box",
  task: null,
  brushMm: null,
  coat: null,
  tape: null,
  trials: null,
  trying: null,
  revisionShown: false,
  sourcesShown: false,
  placingShown: false,
  dialog: null,
};

/** What stays from page to page in this window. */
const chosen = ({ material }: DeskState) => ({ material });

export const useDesk = create<DeskState>()(
  persist(() => DESK_START, {
    name: "pivrel.desk",
    storage: createJSONStorage(() => sessionStorage),
    partialize: chosen,
  }),
);

export const deskStart = (): DeskState => ({ ...DESK_START, ...chosen(useDesk.getState()) });

// A row that is chosen comes before a pick that was there.
useDesk.subscribe((now, before) => {
  if (now.rows !== before.rows && now.rows.length && now.inHand !== "finish") useDesk.setState({ inHand: "finish" });
});
