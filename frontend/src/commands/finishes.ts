import { useDesk } from "../state/desk";
import type { Command, WorkbenchContext } from "./command";
import { nothingPicked } from "./picking";

const noRow = () => (useDesk.getState().rows.length ? null : "no row of the schedule is chosen");

export const FINISHES: Command<WorkbenchContext>[] = [
  {
    id: "lay",
    name: "Lay the material on the pick",
    key: "L",
    hindrance: nothingPicked,
    run: ({ lay }) => lay("pick"),
  },
  { id: "lay-largest", name: "Lay the material on the largest faces", run: ({ lay }) => lay("largest") },
  {
    id: "try-all",
    name: "Try every projection on the pick",
    key: "Shift+L",
    hindrance: nothingPicked,
    run: ({ tryAll }) => tryAll(),
  },
  { id: "turn", name: "Turn by 90°", key: "T", hindrance: noRow, run: ({ turn }) => turn(90) },
  { id: "turn-back", name: "Turn back by 90°", key: "Shift+T", hindrance: noRow, run: ({ turn }) => turn(-90) },
];
