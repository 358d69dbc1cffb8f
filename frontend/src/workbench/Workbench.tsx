import { useCallback } from "react";

import type { Project } from "../api/types";
import { Inspector } from "../inspector/Inspector";
import { Schedule } from "../schedule/Schedule";
import { useModelArrays } from "../view/geometry";
import { ModelView } from "../view/ModelView";
import { count } from "../ui/numbers";
import { FirstSteps } from "./FirstSteps";
import { PickBar } from "./PickBar";
import { useWorkbench } from "./store";
import { useKeys } from "./useKeys";
import { usePicking } from "./usePicking";
import { ViewBar } from "./ViewBar";

/** Where the work happens: the model, the schedule below it, the finish in hand beside it. */
export default function Workbench({ project }: { project: Project }) {
  const model = useModelArrays(project);
  const pick = usePicking(project.id);
  const shown = useWorkbench((s) => s.shown);
  useKeys(project);

  const onFace = useCallback(
    (face: number | null, event: PointerEvent) => {
      const { level, crease, how } = useWorkbench.getState();
      const asked = event.shiftKey ? "add" : event.ctrlKey || event.metaKey || event.altKey ? "remove" : how;
      if (face !== null) void pick({ how: asked, clicked: { face, level, crease_deg: crease } });
      else if (asked === "replace") void pick({ how: "none" });
    },
    [pick],
  );

  return (
    <div className="grid min-h-0 flex-1 grid-cols-[1fr_20.5rem]">
      <div className="flex min-w-0 flex-col">
        <main
          className="relative min-h-0 flex-1 bg-table"
          data-testid="view"
          data-shown={shown ?? ""}
          aria-label="Model"
        >
          {model.data ? (
            <ModelView project={project} model={model.data} onFace={onFace} />
          ) : (
            <p className="grid h-full place-items-center">
              {model.error ? model.error.message : `Fetching ${count(project.model.triangles)} triangles…`}
            </p>
          )}
          <PickBar project={project} />
          <ViewBar project={project} />
          <FirstSteps />
        </main>
        <Schedule project={project} />
      </div>
      <Inspector project={project} />
    </div>
  );
}
