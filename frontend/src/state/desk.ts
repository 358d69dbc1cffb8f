/** What lies on the desk: the rows chosen, the material to be laid next, the task of the next click, open panels. */

import { create } from "zustand";
import { createJSONStorage, persist } from "zustand/middleware";

import type { OnFace, Pick, TapeRead, Trial } from "../api/wire.gen";

/** What the next click on the model is for, where it is not for picking. */
export type ClickTask =
  | { what: "fit-face" | "seam" | "grain-edge"; finish: string }
  | { what: "set-out"; at: "corner" | "edge" | "middle"; unit: "joint" | "centre" }
  | { what: "run-across" }
  | { what: "tape"; from: OnFace | null };

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

export interface DeskState {
  rows: string[];
  /** The material that is laid next. */
  material: string;
  task: ClickTask | null;
  tape: TapeRead | null;
  trials: Trials | null;
  /** Whether the list of what a newer model changed stands in the inspector's place. */
  revisionShown: boolean;
  /** Whether the list of the materials that the model brought is open, and the dialog of its unit and place. */
  sourcesShown: boolean;
  placingShown: boolean;
}

export const DESK_START: DeskState = {
  rows: [],
  material: "brick",
  task: null,
  tape: null,
  trials: null,
  revisionShown: false,
  sourcesShown: false,
  placingShown: false,
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
