/** How the list of parts is looked at. */

import { create } from "zustand";

import type { ListedBy } from "../api/wire.gen";

export interface PartsView {
  partsSearch: string;
  /** Whether the parts are listed, or what the model file groups them by. */
  by: ListedBy;
}

export const PARTS_START: PartsView = { partsSearch: "", by: "part" };

export const usePartsView = create<PartsView>(() => PARTS_START);
