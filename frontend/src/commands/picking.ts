import { put } from "../state";
import { usePick, type Tool } from "../state/pick";
import type { Command, WorkbenchContext } from "./command";

export const nothingPicked = () => (usePick.getState().pick.faces > 0 ? null : "nothing is picked");

const level = (key: string, value: "face" | "patch" | "part"): Command<WorkbenchContext> => ({
  id: `level-${value}`,
  name: `Pick ${value === "patch" ? "patches" : `${value}s`}`,
  key,
  // What a click, and an outline, can both go by.
  run: () => put({ level: value, outlined: value }),
});

const tool = (key: string, value: Tool, name: string): Command<WorkbenchContext> => ({
  id: `tool-${value}`,
  name,
  key,
  run: () => put({ tool: value }),
});

export const PICKING: Command<WorkbenchContext>[] = [
  level("1", "face"),
  level("2", "patch"),
  level("3", "part"),
  tool("K", "click", "Pick by clicks"),
  tool("R", "rectangle", "Pick by a rectangle"),
  tool("U", "outline", "Pick by an outline"),
  { id: "pick-all", name: "Pick all", key: "Ctrl+A", run: ({ pick }) => pick("all") },
  { id: "pick-none", name: "Pick nothing", key: "Esc", hindrance: nothingPicked, run: ({ pick }) => pick("none") },
  { id: "pick-invert", name: "Invert the pick", key: "I", run: ({ pick }) => pick("invert") },
  {
    id: "pick-grow",
    name: "Grow the pick by a ring of faces",
    key: ">",
    hindrance: nothingPicked,
    run: ({ pick }) => pick("grow"),
  },
  {
    id: "pick-shrink",
    name: "Shrink the pick by a ring of faces",
    key: "<",
    hindrance: nothingPicked,
    run: ({ pick }) => pick("shrink"),
  },
  {
    id: "hide",
    name: "Put the pick out of sight",
    key: "H",
    hindrance: nothingPicked,
    run: ({ sight }) => sight("hide"),
  },
  { id: "show-all", name: "Bring everything back into sight", key: "Shift+H", run: ({ sight }) => sight("show all") },
  {
    id: "isolate",
    name: "Show the pick alone",
    key: "J",
    hindrance: nothingPicked,
    run: ({ sight }) => sight("isolate"),
  },
  {
    id: "xray",
    name: "Show the pick through the model",
    key: "X",
    run: () => put({ xray: !usePick.getState().xray }),
  },
];
