/** The commands of the workbench. A new one is a line in the list of what it concerns. */

import { put } from "../state";
import { useDesk } from "../state/desk";
import type { Command, WorkbenchContext } from "./command";
import { ARRANGING } from "./arranging";
import { FINISHES } from "./finishes";
import { PICKING } from "./picking";
import { VIEWING } from "./viewing";

/** Leaves what the next click is for; it comes before letting go of the pick, which has the same key. */
const LEAVE_TASK: Command<WorkbenchContext> = {
  id: "leave-task",
  name: "Leave the task of the next click",
  key: "Esc",
  hindrance: () => (useDesk.getState().task || useDesk.getState().tape ? null : "nothing is under way"),
  run: () => put({ task: null, tape: null }),
};

export const WORKBENCH: Command<WorkbenchContext>[] = [LEAVE_TASK, ...FINISHES, ...PICKING, ...VIEWING, ...ARRANGING];

/** One of them by its id. */
export function commandOf(id: string): Command<WorkbenchContext> {
  const found = WORKBENCH.find((command) => command.id === id);
  if (!found) throw new Error(`there is no command ${id}`);
  return found;
}

/** A hint with the key that does the same. */
export const withKey = (hint: string, id: string) => `${hint} (${commandOf(id).key})`;
