/** The columns of the schedule, in order. Those that can be put away have a name in the menu. */

import type { SortBy } from "../../../state/scheduleView";

/** What was measured of a finish. */
export type MeasuredId = "true" | "smeared" | "mirrored" | "seams";

export interface Column {
  id: "on" | "code" | "finish" | "laid-on" | "by" | "repeat" | "turn" | "offset" | "area" | MeasuredId;
  head: string;
  /** In pixels; without one the column takes its share of the room that is left. */
  width?: number;
  sortBy?: SortBy;
  /** Figures stand to the right. */
  figure?: boolean;
  /** Whether it stays whatever is chosen. */
  fixed?: boolean;
}

export const COLUMNS: Column[] = [
  { id: "on", head: "On", width: 30, fixed: true },
  { id: "code", head: "Code", width: 44, sortBy: "order", fixed: true },
  { id: "finish", head: "Finish", sortBy: "name", fixed: true },
  { id: "laid-on", head: "Laid on" },
  { id: "by", head: "By", width: 84, sortBy: "by" },
  { id: "repeat", head: "Repeat, mm", width: 112 },
  { id: "turn", head: "Turn", width: 58 },
  { id: "offset", head: "Offset, mm", width: 106 },
  { id: "area", head: "Area", width: 78, sortBy: "area", figure: true },
  { id: "true", head: "True", width: 58, sortBy: "true", figure: true },
  { id: "smeared", head: "Smeared", width: 84, sortBy: "smeared", figure: true },
  { id: "mirrored", head: "Mirrored", width: 84, sortBy: "mirrored", figure: true },
  { id: "seams", head: "Seams", width: 70, sortBy: "seams", figure: true },
];

export const columnsShown = (away: string[]) => COLUMNS.filter(({ id, fixed }) => fixed || !away.includes(id));
