import { put } from "../state";
import { nextFlat, toggleList, togglePanel } from "../state/panes";
import type { Command, WorkbenchContext } from "./command";

/** How the workbench is arranged, and what opens over it. */
export const ARRANGING: Command<WorkbenchContext>[] = [
  { id: "list-schedule", name: "Open or close the schedule", key: "Q", run: () => toggleList("schedule") },
  { id: "list-parts", name: "Open or close the list of parts", key: "W", run: () => toggleList("parts") },
  { id: "panel", name: "Open or close the panel beside the model", key: "Y", run: togglePanel },
  { id: "flat", name: "The flat view beside the model, in its place, or put away", key: "V", run: nextFlat },
  { id: "save-picture", name: "Save a picture", key: "Ctrl+S", run: () => put({ dialog: "picture" }) },
  { id: "search", name: "Find a command", key: "Ctrl+K", run: () => put({ dialog: "search" }) },
  { id: "keys", name: "Show all keys", key: "?", run: () => put({ dialog: "keys" }) },
];
