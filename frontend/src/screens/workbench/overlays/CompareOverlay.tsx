import { useRef, type PointerEvent, type RefObject } from "react";
import { createPortal } from "react-dom";

import { useEdits, useMaterials } from "../../../api/project";
import type { Project } from "../../../api/wire.gen";
import { Button } from "../../../ui/Button";
import { put } from "../../../state";
import { useLook } from "../../../state/look";
import { NOTICE } from "./notice";

interface Props {
  project: Project;
  view: RefObject<HTMLElement | null>;
  notices: Element | null;
}

/** Two materials on the model, one on each side of a line that the hand moves. */
export function CompareOverlay({ project, view, notices }: Props) {
  const compare = useLook((s) => s.compare);
  const { run } = useEdits(project.id);
  const materials = useMaterials(project);
  const held = useRef(false);
  const finish = project.finishes.find((f) => f.key === compare?.finish);
  const now = finish && project.materials[finish.material];
  const other = materials.find((m) => m.key === compare?.material);
  if (!compare || !finish || !now || !other) return null;

  const move = (event: PointerEvent) => {
    if (!held.current) return;
    const box = view.current!.getBoundingClientRect();
    const split = Math.min(0.98, Math.max(0.02, (event.clientX - box.left) / box.width));
    put({ compare: { ...compare, split } });
  };
  const step = (by: number) =>
    put({ compare: { ...compare, split: Math.min(0.98, Math.max(0.02, compare.split + by)) } });
  const uses = project.finishes.filter((f) => f.material === finish.material).length;
  const take = (everywhere: boolean) => {
    run(
      everywhere
        ? { kind: "swap_material", material: finish.material, to: other.key }
        : { kind: "set_material", finishes: [finish.key], material: other.key },
    );
    put({ compare: null });
  };
  const at = `${compare.split * 100}%`;
  return (
    <>
      <div
        role="slider"
        tabIndex={0}
        aria-label="Line between the two materials"
        aria-valuenow={Math.round(compare.split * 100)}
        data-testid="split"
        className="absolute inset-y-0 z-10 -ml-2 w-4 cursor-ew-resize touch-none"
        style={{ left: at }}
        onPointerDown={(event) => {
          held.current = true;
          event.currentTarget.setPointerCapture(event.pointerId);
        }}
        onPointerMove={move}
        onPointerUp={() => (held.current = false)}
        onKeyDown={(event) => {
          if (event.key === "ArrowLeft") step(-0.02);
          if (event.key === "ArrowRight") step(0.02);
        }}
      >
        <span className="absolute inset-y-0 left-1/2 w-[3px] -translate-x-1/2 border-x border-sheet bg-hand" />
      </div>
      {notices &&
        createPortal(
          <section aria-label="Compare" className={`${NOTICE} flex items-center gap-2 bg-paper/95`}>
            <span>
              {now.name} <span className="label">left,</span> {other.name} <span className="label">right</span>
            </span>
            <Button
              look="main"
              onClick={() => take(false)}
              title={`${other.name} on ${finish.name}; size in mm and grain stay as they are`}
            >
              Take it
            </Button>
            {uses > 1 && <Button onClick={() => take(true)}>On all {uses} uses</Button>}
            <Button look="quiet" onClick={() => put({ compare: null })}>
              Leave it
            </Button>
          </section>,
          notices,
        )}
    </>
  );
}
