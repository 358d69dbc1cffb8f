import { useMemo } from "react";

import type { Project } from "../../api/wire.gen";
import type { WorkbenchContext } from "../../commands/command";
import { usePicking } from "./usePicking";
import { useSight } from "./useSight";
import { useTurn } from "./useTurn";

/** What the workbench's commands work with, the same as long as the project is. */
export function useWorkbenchContext(project: Project): WorkbenchContext {
  const ask = usePicking(project.id);
  const sight = useSight(project.id);
  const turn = useTurn(project);
  return useMemo(() => ({ project, pick: (how) => void ask({ how }), sight, turn }), [project, ask, sight, turn]);
}
