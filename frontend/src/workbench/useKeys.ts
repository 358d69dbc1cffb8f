import { useEffect } from "react";

import { useEdits } from "../api/project";
import type { Level, Project } from "../api/types";
import type { Look } from "../view/materials";
import { useWorkbench } from "./store";
import { usePicking } from "./usePicking";
import { VIEW_KEYS } from "./ViewBar";

const LEVELS: Record<string, Level> = { "1": "face", "2": "patch", "3": "part" };
const LOOKS: Record<string, Look> = { f: "finish", c: "checker", b: "bare" };

/** One key each for what is done all day; none while something is being typed. */
export function useKeys(project: Project) {
  const ask = usePicking(project.id);
  const { run } = useEdits(project.id);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      if (target.closest("input, select, textarea, [role=menu], [role=dialog], [role=alertdialog]")) return;
      const { rows, pick, going, set, goTo } = useWorkbench.getState();
      const key = event.key.toLowerCase();
      if (LEVELS[key]) set({ level: LEVELS[key] });
      else if (LOOKS[key]) set({ look: LOOKS[key] });
      else if (VIEW_KEYS[key]) goTo(VIEW_KEYS[key]);
      else if (key === "a") void ask({ how: "all" });
      else if (key === "escape") void ask({ how: "none" });
      else if (key === "i") void ask({ how: "invert" });
      else if (key === "+" && pick.faces) void ask({ how: "grow" });
      else if (key === "z") goTo(going.view, pick.faces > 0);
      else if (key === "t" && rows.length) run({ kind: "change", finishes: rows, turn_by: event.shiftKey ? -90 : 90 });
      else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [ask, run]);
}
