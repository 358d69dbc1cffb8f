import { useCallback, useRef } from "react";

import { sendJson } from "../../api/client";
import { useEdits } from "../../api/project";
import type { OnFace, Project, TapeRead, TapeRequest, Triple } from "../../api/wire.gen";
import { nearestCorner } from "../../model/corners";
import { useEye } from "../../model/eye";
import type { FaceHit, HeldKeys } from "../../model/corners";
import { type ClickTask } from "../../state/desk";
import { put } from "../../state";
import { attempt } from "../../ui/attempt";

/** Two clicks within this time are one, clicked twice. */
const TWICE_MS = 280;

/** Carries out what a click on the model was asked for. */
export function useClickTask(project: Project) {
  const { run } = useEdits(project.id);
  const waiting = useRef<ReturnType<typeof setTimeout>>(undefined);
  return useCallback(
    (task: ClickTask, hit: FaceHit, held: HeldKeys) => {
      const [x, y, z] = project.model.view_origin_mm;
      const inModel = (p: { x: number; y: number; z: number }): Triple => [p.x + x, p.y + y, p.z + z];
      const on: OnFace = { face: hit.face, place: inModel(hit.point) };
      if (task.what === "tape") {
        if (!task.from) return put({ task: { what: "tape", from: on }, tape: null });
        // The tape stays in hand: the next two clicks lay it anew.
        put({ task: { what: "tape", from: null } });
        const asked: TapeRequest = { a: task.from, b: on };
        attempt(sendJson<TapeRead>("POST", `/projects/${project.id}/tape`, asked), (tape) => put({ tape }));
        return;
      }
      if (task.what === "guide" && !task.from) return put({ task: { ...task, from: on } });
      // Lines and boxes are drawn by dragging, and the task stays for the next one.
      if (task.what === "line" || task.what === "brush" || task.what === "avoid") return;
      if (task.what === "cut") {
        const cut = (take: "edge" | "run" | "way") =>
          run({ kind: "cut_edge", finishes: [task.finish], edge: on, take });
        const again = waiting.current !== undefined;
        clearTimeout(waiting.current);
        waiting.current = undefined;
        if (held.shiftKey) return cut("way");
        if (again) return cut("run");
        // A second click may follow, which means more than the edge.
        waiting.current = setTimeout(() => {
          waiting.current = undefined;
          cut("edge");
        }, TWICE_MS);
        return;
      }
      if (task.what === "straighten") return run({ kind: "straighten", finish: task.finish, edge: on });
      put({ task: null });
      switch (task.what) {
        case "fit-face":
          return run({ kind: "fit_datum", finishes: [task.finish], aim: { to: "face", face: hit.face } });
        case "guide":
          return run({ kind: "drape_between", finishes: [task.finish], edges: [task.from!, on] });
        case "tie": {
          const tie = project.finishes.find((f) => f.key === task.finish)?.tie ?? [];
          const more = { sheet_mm: task.sheet_mm, at_mm: on.place };
          return run({ kind: "set_ties", finishes: [task.finish], tie: [...tie, more] });
        }
        case "line-edge":
          return run({ kind: "line_along", finishes: [task.finish], edge: on });
        case "roll-from":
          return run({
            kind: "set_options",
            finishes: [task.finish],
            options: { kind: "roll", from: inModel(hit.point) },
          });
        case "grain-edge":
          return run({ kind: "follow_edge", finishes: [task.finish], edge: on });
        case "set-out":
          return run({ kind: "set_out", at: task.at, what: task.unit, ...on });
        case "lay-edge":
          return run({ kind: "lay_edge", edge: on, to: task.to });
        case "run-across":
          return run({ kind: "run_across", ...on });
        case "seam": {
          const { model } = useEye.getState();
          const place = model ? nearestCorner(model, hit) : hit.point;
          return run({ kind: "turn_seam", finishes: [task.finish], to_point: inModel(place) });
        }
      }
    },
    [project, run],
  );
}
