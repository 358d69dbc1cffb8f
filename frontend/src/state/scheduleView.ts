/** How the schedule is looked at: what is searched, which rows, in which order. It changes nothing of the schedule itself. */

import { create } from "zustand";

export type Filter = "all" | "wrong" | "nowhere" | "off";

/** A column that rows can be put in order by; "order" is the schedule's own. */
export type SortBy = "order" | "name" | "material" | "by" | "area" | "true" | "smeared" | "mirrored" | "seams";

export interface ScheduleView {
  search: string;
  filter: Filter;
  sortBy: SortBy;
  downwards: boolean;
  grouped: boolean;
  /** Materials whose rows are folded up. */
  foldedMaterials: string[];
}

export const SCHEDULE_START: ScheduleView = {
  search: "",
  filter: "all",
  sortBy: "order",
  downwards: false,
  grouped: false,
  foldedMaterials: [],
};

export const useScheduleView = create<ScheduleView>(() => SCHEDULE_START);
