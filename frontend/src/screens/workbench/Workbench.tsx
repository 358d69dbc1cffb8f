import { useCallback, useEffect, useRef, useState } from "react";

import type { Pair, Project, Triple } from "../../api/wire.gen";
import { Inspector } from "./inspector/Inspector";
import { Schedule } from "./schedule/Schedule";
import { useFramedParts, useModelArrays } from "../../model/geometry";
import { ModelView } from "../../view/ModelView";
import { count } from "../../ui/numbers";
import { RevisionPanel } from "./revision/RevisionPanel";
import { TrialsPanel } from "./trials/TrialsPanel";
import { CoatDatumOverlay } from "../../datum/CoatDatumOverlay";
import { DatumOverlay } from "../../datum/DatumOverlay";
import { FlatView } from "../../flat/FlatView";
import { FrameOverlay } from "../../datum/FrameOverlay";
import { MaskOverlay } from "../../datum/MaskOverlay";
import { StrokeOverlay } from "../../datum/StrokeOverlay";
import { ThrownOverlay } from "../../datum/ThrownOverlay";
import { eyeSent, useEye } from "../../model/eye";
import { wayOf, type FaceHit, type HeldKeys } from "../../model/corners";
import { CompareOverlay } from "./overlays/CompareOverlay";
import { NOTICES } from "./overlays/notice";
import { TaskBanner } from "./overlays/TaskBanner";
import { Legend } from "./overlays/Legend";
import { CommandSearch } from "./dialogs/CommandSearch";
import { KeysDialog } from "./dialogs/KeysDialog";
import { PictureDialog } from "./dialogs/PictureDialog";
import { KeyedView } from "./KeyedView";
import { Panes } from "./Panes";
import { PartsList } from "./parts/PartsList";
import { PickLine } from "./lines/PickLine";
import { RegionOverlay } from "./overlays/RegionOverlay";
import { TapeOverlay } from "./overlays/TapeOverlay";
import { UnderPointer } from "./overlays/UnderPointer";
import { useFreshPick } from "./picking/useFreshPick";
import { useClickTask } from "./useClickTask";
import { useWorkbenchContext } from "./useWorkbenchContext";
import { WORKBENCH } from "../../commands/registry";
import { useCommandKeys } from "../../commands/useCommandKeys";
import { usePicking } from "./picking/usePicking";
import { ViewLine } from "./lines/ViewLine";
import { usePanes } from "../../state/panes";
import { useDesk } from "../../state/desk";
import { useHand } from "../../state/hand";
import { current } from "../../state";

/** Where the work happens: the model, the schedule below it, the finish in hand beside it. */
export default function Workbench({ project }: { project: Project }) {
  const model = useModelArrays(project);
  const framed = useFramedParts(project);
  const pick = usePicking(project.id);
  const shown = useHand((s) => s.shown);
  const revisionShown = useDesk((s) => s.revisionShown);
  useFreshPick(project);
  const view = useRef<HTMLElement>(null);
  const [notices, setNotices] = useState<Element | null>(null);
  useEffect(() => {
    // For whoever checks what is drawn where: from the view's coordinates to clip space, column by column.
    // Written past React, so that turning the view does not draw the whole page again.
    const marked = () => view.current && (view.current.dataset.eye = useEye.getState().matrix.elements.join());
    marked();
    return useEye.subscribe(marked);
  }, []);
  useEffect(
    () => useHand.subscribe(({ previews }) => view.current && (view.current.dataset.previews = String(previews))),
    [],
  );
  const run = useClickTask(project);
  const context = useWorkbenchContext(project);
  useCommandKeys(WORKBENCH, context);

  const onFace = useCallback(
    (hit: FaceHit | null, event: HeldKeys) => {
      const { level, crease, angle, how, task } = current();
      if (task) return void (hit && run(task, hit, event));
      const asked = wayOf(event, how);
      if (hit !== null) {
        const [x, y, z] = project.model.view_origin_mm;
        const place: Triple = [hit.point.x + x, hit.point.y + y, hit.point.z + z];
        void pick({ how: asked, clicked: { face: hit.face, level, crease_deg: crease, angle_deg: angle, place } });
      } else if (asked === "replace") void pick({ how: "none" });
    },
    [pick, run, project.model.view_origin_mm],
  );
  const onRegion = useCallback(
    (outline: Pair[], event: PointerEvent) => {
      const { outlined, crease, how, through, whole } = current();
      const region = { outline, eye: eyeSent(useEye.getState()), through, whole, level: outlined, crease_deg: crease };
      void pick({ how: wayOf(event, how), region });
    },
    [pick],
  );

  const list = usePanes((s) => s.list);
  return (
    <main className="flex min-h-0 flex-1 flex-col">
      <PickLine context={context} />
      <Panes
        model={
          <section
            className="relative h-full overflow-hidden bg-table"
            data-testid="view"
            data-shown={shown ?? ""}
            ref={view}
            data-previews="0"
            aria-label="Model"
          >
            {model.data && framed.data ? (
              <KeyedView>
                <ModelView project={project} model={model.data} framed={framed.data.parts} onFace={onFace} />
              </KeyedView>
            ) : (
              <p className="grid h-full place-items-center">
                {model.error ? model.error.message : `Fetching ${count(project.model.triangles)} triangles…`}
              </p>
            )}
            <DatumOverlay project={project} />
            <CoatDatumOverlay project={project} />
            <FrameOverlay project={project} />
            <ThrownOverlay project={project} />
            <MaskOverlay project={project} />
            <StrokeOverlay project={project} view={view} />
            <RegionOverlay view={view} onRegion={onRegion} />
            <Legend project={project} />
            <UnderPointer project={project} />
            <CompareOverlay project={project} view={view} notices={notices} />
            <TapeOverlay project={project} notices={notices} />
            <div ref={setNotices} className={NOTICES}>
              <TaskBanner context={context} on="model" />
            </div>
          </section>
        }
        flat={
          <FlatView project={project} onFace={onFace} pick={pick}>
            <div className={NOTICES}>
              <TaskBanner context={context} on="sheet" />
            </div>
          </FlatView>
        }
        line={<ViewLine context={context} />}
        panel={
          revisionShown && project.model.revised ? <RevisionPanel project={project} /> : <Inspector context={context} />
        }
        list={list === "parts" ? <PartsList project={project} /> : <Schedule project={project} />}
      />
      <TrialsPanel project={project} />
      <CommandSearch context={context} />
      <KeysDialog />
      <PictureDialog project={project} />
    </main>
  );
}
