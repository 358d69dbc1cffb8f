/** How a person has the workbench arranged: which panes are open and how large. Kept from visit to visit. */

import { create } from "zustand";
import { persist } from "zustand/middleware";

/** What the pane below the model lists. */
export type List = "schedule" | "parts";

/** Fine pictures have contact shadows; "by itself" leaves them out where there is no graphics card. */
export type Quality = "by itself" | "fine" | "plain";

/** Where the flat view stands: not at all, beside the model, or in its place. */
export type FlatAt = "off" | "beside" | "instead";

export interface PanesState {
  flat: FlatAt;
  /** The panel beside the model. */
  panelOpen: boolean;
  panelPx: number;
  /** The pane below the model; null where it is closed. */
  list: List | null;
  listPx: number;
  /** Sections of the panel that are folded up, and columns of the schedule that are put away. */
  folded: string[];
  columnsAway: string[];
  /** How finely the view is drawn. */
  quality: Quality;
}

export const PANEL_PX = 320;
/** Five rows under their heads. */
export const LIST_PX = 139;

export const PANES_START: PanesState = {
  flat: "off",
  panelOpen: true,
  panelPx: PANEL_PX,
  list: null,
  listPx: LIST_PX,
  folded: ["Set-out", "Datum"],
  columnsAway: [],
  quality: "by itself",
};

export const usePanes = create<PanesState>()(persist(() => PANES_START, { name: "pivrel.panes" }));

/** Opens a list, or closes it where it is open. */
export const toggleList = (list: List) => usePanes.setState((s) => ({ list: s.list === list ? null : list }));

export const togglePanel = () => usePanes.setState((s) => ({ panelOpen: !s.panelOpen }));

/** Takes a name into a list of names, or out of it. */
export const toggled = (names: string[], name: string) =>
  names.includes(name) ? names.filter((other) => other !== name) : [...names, name];

const NEXT: Record<FlatAt, FlatAt> = { off: "beside", beside: "instead", instead: "off" };

/** The flat view beside the model, then in its place, then put away. */
export const nextFlat = () => usePanes.setState((s) => ({ flat: NEXT[s.flat] }));
