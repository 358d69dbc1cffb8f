/** Every command once: its name, its key, when it can be used, and what it does. Keys, buttons and menus read it here. */

import type { Project, Way } from "../api/wire.gen";
import type { ClickWay } from "../state/pick";

/** What the commands of any screen of a project work with. */
export interface ProjectContext {
  project: Project;
  step: (what: "undo" | "redo") => void;
}

/** What those of the workbench work with. */
export interface WorkbenchContext {
  project: Project;
  /** Asks for the pick after a change. */
  pick: (how: Exclude<Way, ClickWay>) => void;
  sight: (what: "hide" | "isolate" | "show all") => void;
  turn: (degrees: number) => void;
  /** Lays the material in hand; tries it by every projection. */
  lay: (on: "pick" | "largest") => void;
  tryAll: () => void;
}

export interface Command<Context> {
  id: string;
  name: string;
  /** As it is shown beside the name: "T", "Shift+H", "Ctrl+Z". */
  key?: string;
  /** Why it cannot be used now; null where it can. */
  hindrance?: (context: Context) => string | null;
  run: (context: Context) => void;
}

/** A key as it is shown beside a name. */
export const shownKey = (key: string) => key.replace("Shift+", "⇧").replace(/^-$/, "−");

/** What an event's key can be called; commands say their keys so. */
export const keyNames = (event: KeyboardEvent): string[] => {
  const key = event.key === "Escape" ? "Esc" : event.key.length === 1 ? event.key.toUpperCase() : event.key;
  const held = `${event.ctrlKey || event.metaKey ? "Ctrl+" : ""}${event.altKey ? "Alt+" : ""}`;
  // Signs such as + are typed with Shift on some keyboards, and without on others.
  const sign = !/^[A-Z]$/.test(key);
  return event.shiftKey ? [`${held}Shift+${key}`, ...(sign ? [held + key] : [])] : [held + key];
};
