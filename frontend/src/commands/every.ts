/** Every command that the search offers on the workbench: the fixed ones, and those that this project brings about. */

import { goToSaved } from "../model/eye";
import { put } from "../state";
import type { Command, ProjectContext, WorkbenchContext } from "./command";
import { REDO, UNDO } from "./project";
import { WORKBENCH } from "./registry";

export type SearchContext = WorkbenchContext & ProjectContext & { go: (screen: "materials" | "hand-over") => void };

const SCREENS: Command<SearchContext>[] = [
  { id: "go-materials", name: "Go to the materials", run: ({ go }) => go("materials") },
  { id: "go-hand-over", name: "Go to the hand-over", run: ({ go }) => go("hand-over") },
];

/** The kept views, the kept picks and the finishes of this project, each by its name. */
function ofProject({ project }: WorkbenchContext): Command<SearchContext>[] {
  return [
    ...project.views.map((view): Command<SearchContext> => ({
      id: `kept-view-${view.key}`,
      name: `Kept view: ${view.name}`,
      run: () => goToSaved(view, project.model.view_origin_mm),
    })),
    ...project.finishes.map((finish): Command<SearchContext> => ({
      id: `finish-${finish.key}`,
      name: `Finish: ${finish.key} ${finish.name}`,
      run: () => put({ rows: [finish.key], material: finish.material }),
    })),
  ];
}

export function everyCommand(context: WorkbenchContext): Command<SearchContext>[] {
  // What is left by Escape alone is no command that anybody looks for.
  const fixed = WORKBENCH.filter(({ id }) => id !== "leave-task" && id !== "search");
  return [...fixed, UNDO, REDO, ...SCREENS, ...ofProject(context)];
}

/** How many of the last ones are offered first. */
const RECENT = 5;
const KEPT_AS = "pivrel.recent-commands";

export function recentCommands(): string[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(KEPT_AS) ?? "[]");
    return Array.isArray(kept) ? kept.filter((id): id is string => typeof id === "string") : [];
  } catch {
    return [];
  }
}

export function remember(id: string) {
  const ids = [id, ...recentCommands().filter((other) => other !== id)].slice(0, RECENT);
  localStorage.setItem(KEPT_AS, JSON.stringify(ids));
}
