import { useCallback } from "react";

import { useEdits } from "../../../api/project";
import type { Project } from "../../../api/wire.gen";
import { current } from "../../../state";
import { panelOf } from "../../../projections/registry";

/**
 * Turns what is in hand: the picked faces where a pick lies within the one finish that is chosen, else the
 * chosen finishes whole.
 */
export function useTurn(project: Project) {
  const { run } = useEdits(project.id);
  return useCallback(
    (turn_by: number) => {
      const { rows, pick } = current();
      const only = rows.length === 1 ? project.finishes.find((finish) => finish.key === rows[0]) : undefined;
      if (only && pick.faces > 0 && pick.faces < only.faces && panelOf(only.projection.kind).byFace) {
        run({ kind: "turn_pick", finish: only.key, pick: pick.rule, turn_by });
      } else if (rows.length) {
        run({ kind: "turn_by", finishes: rows, turn_by });
      }
    },
    [project, run],
  );
}
