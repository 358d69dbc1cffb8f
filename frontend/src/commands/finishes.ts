import { useDesk } from "../state/desk";
import type { Command, WorkbenchContext } from "./command";

const noRow = () => (useDesk.getState().rows.length ? null : "no row of the schedule is chosen");

export const FINISHES: Command<WorkbenchContext>[] = [
  { id: "turn", name: "Turn by 90°", key: "T", hindrance: noRow, run: ({ turn }) => turn(90) },
  { id: "turn-back", name: "Turn back by 90°", key: "Shift+T", hindrance: noRow, run: ({ turn }) => turn(-90) },
];
