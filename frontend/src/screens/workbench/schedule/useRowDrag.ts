import { useCallback, useEffect, useRef, useState, type PointerEvent } from "react";

import { useEdits } from "../../../api/project";
import type { Project } from "../../../api/wire.gen";
import { useNotices } from "../../../ui/notices";

/** A press that moved less than this many pixels chooses the row. */
const STILL = 4;

/** Drags a row to another place of the schedule; the row whose place it would take is marked meanwhile. */
export function useRowDrag(project: Project, inOrder: boolean) {
  const { run } = useEdits(project.id);
  const say = useNotices((s) => s.say);
  const [before, setBefore] = useState<string | null>(null);
  // The same from state to state, so that an edit does not draw every row anew.
  const order = useRef(project.finishes);
  useEffect(() => {
    order.current = project.finishes;
  }, [project.finishes]);
  const begin = useCallback(
    (key: string, event: PointerEvent) => {
      if (event.button !== 0) return;
      const from = event.clientY;
      let target: string | null = null;
      const grip = event.currentTarget as HTMLElement;
      grip.setPointerCapture(event.pointerId);
      const move = (now: globalThis.PointerEvent) => {
        if (Math.abs(now.clientY - from) < STILL) return;
        const row = document.elementsFromPoint(grip.getBoundingClientRect().left + 4, now.clientY);
        const found = row.map((element) => element.closest<HTMLElement>("[data-row]")).find(Boolean);
        if (found) setBefore((target = found.dataset.row!));
      };
      const end = () => {
        grip.removeEventListener("pointermove", move);
        setBefore(null);
        if (target === null || target === key) return;
        if (!inOrder) return say("Rows are dragged in the schedule’s own order: press Code, and leave the groups");
        // Dragged down it comes to lie after the row that it was let go on, dragged up before it.
        run({ kind: "move", finish: key, to: order.current.findIndex((finish) => finish.key === target) });
      };
      grip.addEventListener("pointermove", move);
      grip.addEventListener("pointerup", end, { once: true });
      grip.addEventListener("pointercancel", end, { once: true });
    },
    [inOrder, run, say],
  );
  return { before, begin };
}
