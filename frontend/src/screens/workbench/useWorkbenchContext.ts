import { useMemo } from "react";

import type { Project } from "../../api/wire.gen";
import type { WorkbenchContext } from "../../commands/command";
import { current } from "../../state";
import { useLay } from "./picking/useLay";
import { usePicking } from "./picking/usePicking";
import { useSight } from "./picking/useSight";
import { useTurn } from "./picking/useTurn";
import { useTrials } from "./trials/useTrials";

/** What the workbench's commands work with, the same as long as the project is. */
export function useWorkbenchContext(project: Project): WorkbenchContext {
  const ask = usePicking(project.id);
  const sight = useSight(project.id);
  const turn = useTurn(project);
  const lay = useLay(project);
  const { start } = useTrials(project);
  return useMemo(
    () => ({
      project,
      pick: (how) => void ask({ how }),
      sight,
      turn,
      lay,
      tryAll: () => start(null, current().material),
    }),
    [project, ask, sight, turn, lay, start],
  );
}
