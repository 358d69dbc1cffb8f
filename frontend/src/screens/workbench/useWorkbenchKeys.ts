import type { Project } from "../../api/wire.gen";
import { WORKBENCH } from "../../commands/registry";
import { useCommandKeys } from "../../commands/useCommandKeys";
import { usePicking } from "./usePicking";
import { useSight } from "./useSight";
import { useTurn } from "./useTurn";

/** One key each for what is done all day. */
export function useWorkbenchKeys(project: Project) {
  const ask = usePicking(project.id);
  const sight = useSight(project.id);
  const turn = useTurn(project);
  useCommandKeys(WORKBENCH, {
    project,
    pick: (how) => void ask({ how }),
    sight: (what) => sight(what),
    turn,
  });
}
