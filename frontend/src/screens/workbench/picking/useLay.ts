import { useCallback } from "react";

import { sendJson } from "../../../api/client";
import { useEdits } from "../../../api/project";
import type { Pick, Picked, Project } from "../../../api/wire.gen";
import { lookingFrom, useEye } from "../../../model/eye";
import { projectionOf } from "../../../projections/registry";
import { current, put } from "../../../state";
import { DESK_START } from "../../../state/desk";
import { NOTHING } from "../../../state/pick";
import { attempt } from "../../../ui/attempt";

/** Lays the material in hand on the pick, or on the largest faces where nothing is picked. */
export function useLay(project: Project) {
  const { edit } = useEdits(project.id);
  return useCallback(
    (on: "pick" | "largest") => {
      attempt(async () => {
        const { pick, material, kind } = current();
        const asked = () => sendJson<Picked>("POST", `/projects/${project.id}/pick`, { how: "largest" });
        const rule: Pick = on === "pick" ? pick.rule : (await asked()).pick;
        const eye = useEye.getState();
        // The seam of a round projection falls on the side that is not seen from here.
        const aim = eye.camera ? { towards: lookingFrom(eye).towards } : {};
        const projection = projectionOf(kind, project.model.view_origin_mm);
        const after = await edit({ kind: "lay", material, pick: rule, projection, aim });
        const added = after.finishes.at(-1);
        // The pick is put down, so that its mark does not hide what was just laid; the next laying begins by box again.
        if (added) put({ rows: [added.key], pick: NOTHING, kind: DESK_START.kind });
      });
    },
    [edit, project.id, project.model.view_origin_mm],
  );
}
