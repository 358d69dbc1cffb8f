import { useCallback } from "react";

import { sendJson } from "../api/client";
import { useEdits } from "../api/project";
import type { OnFace, Project, TapeRead, Triple } from "../api/types";
import { useNotices } from "../ui/notices";
import { nearestCorner } from "../view/corners";
import { useEye } from "../view/eye";
import type { FaceHit } from "../view/useFaceClicks";
import { useWorkbench, type Errand } from "./store";

/** Carries out what a click on the model was asked for. */
export function useErrand(project: Project) {
  const { run } = useEdits(project.id);
  const tell = useNotices((s) => s.tell);
  return useCallback(
    (errand: NonNullable<Errand>, hit: FaceHit) => {
      const [x, y, z] = project.model.view_origin_mm;
      const inModel = (p: { x: number; y: number; z: number }): Triple => [p.x + x, p.y + y, p.z + z];
      const on: OnFace = { face: hit.face, place: inModel(hit.point) };
      if (errand.what === "tape") {
        if (!errand.from) return useWorkbench.setState({ errand: { what: "tape", from: on }, tape: null });
        // The tape stays in hand: the next two clicks lay it anew.
        useWorkbench.setState({ errand: { what: "tape", from: null } });
        sendJson<TapeRead>("POST", `/projects/${project.id}/tape`, { a: errand.from, b: on }).then(
          (tape) => useWorkbench.setState({ tape }),
          (error: unknown) => tell(error instanceof Error ? error.message : String(error)),
        );
        return;
      }
      useWorkbench.setState({ errand: null });
      switch (errand.what) {
        case "fit-face":
          return run({ kind: "change", finishes: [errand.finish], fit: { to: "face", face: hit.face } });
        case "grain-edge":
          return run({ kind: "change", finishes: [errand.finish], grain_edge: on });
        case "set-out":
          return run({ kind: "set_out", at: errand.at, what: errand.unit, ...on });
        case "run-across":
          return run({ kind: "run_across", ...on });
        case "seam": {
          const { model } = useEye.getState();
          const place = model ? nearestCorner(model, hit) : hit.point;
          return run({ kind: "change", finishes: [errand.finish], seam: { to_point: inModel(place) } });
        }
      }
    },
    [project, run, tell],
  );
}
