import { useEffect } from "react";

import type { Project } from "../api/types";
import type { Look } from "../view/materials";
import { useWorkbench, type Tool } from "./store";
import { usePicking } from "./usePicking";
import { useSight } from "./useSight";
import { useTurn } from "./useTurn";
import { VIEW_KEYS } from "./ViewMenu";

/** What a click, and an outline, can both go by. */
const LEVELS: Record<string, "face" | "patch" | "part"> = { "1": "face", "2": "patch", "3": "part" };
const TOOLS: Record<string, Tool> = { k: "click", r: "rectangle", u: "outline" };
const LOOKS: Record<string, Look> = {
  f: "finish",
  o: "color",
  c: "checker",
  s: "stretch",
  e: "seams",
  g: "grain",
  b: "bare",
  n: "channel",
  p: "source",
};

/** One key each for what is done all day; none while something is being typed. */
export function useKeys(project: Project) {
  const ask = usePicking(project.id);
  const sight = useSight(project.id);
  const turn = useTurn(project);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      // What an open menu or panel has taken for itself is not meant for the model.
      if (event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey) return;
      if (target.closest("input:not([type=checkbox]), select, textarea, [role=menu], [role=dialog], [role=alertdialog]")) return;
      const { rows, pick, going, set, goTo, datumShown, errand, xray } = useWorkbench.getState();
      const key = event.key.toLowerCase();
      if (LEVELS[key]) set({ level: LEVELS[key], outlined: LEVELS[key] });
      else if (LOOKS[key]) set({ look: LOOKS[key] });
      else if (TOOLS[key]) set({ tool: TOOLS[key] });
      else if (VIEW_KEYS[key]) goTo(VIEW_KEYS[key]);
      else if (key === "a") void ask({ how: "all" });
      else if (key === "d") set({ datumShown: !datumShown });
      else if (key === "escape" && (errand || useWorkbench.getState().tape)) set({ errand: null, tape: null });
      else if (key === "m") set({ errand: errand?.what === "tape" ? null : { what: "tape", from: null }, tape: null });
      else if (key === "escape") void ask({ how: "none" });
      else if (key === "i") void ask({ how: "invert" });
      else if (key === "+" && pick.faces) void ask({ how: "grow" });
      else if (key === "-" && pick.faces) void ask({ how: "shrink" });
      else if (key === "h") void sight(event.shiftKey ? "show all" : "hide");
      else if (key === "j") void sight("isolate");
      else if (key === "x") set({ xray: !xray });
      else if (key === "z") goTo(going.view, pick.faces > 0);
      else if (key === "t" && rows.length) turn(event.shiftKey ? -90 : 90);
      else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [ask, sight, turn]);
}
