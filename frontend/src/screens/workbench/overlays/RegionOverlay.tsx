import { useEffect, useRef, useState, type RefObject } from "react";

import type { Pair } from "../../../api/wire.gen";
import { useDesk } from "../../../state/desk";
import { usePick } from "../../../state/pick";

/** A drag shorter than this many pixels is a click. */
const STILL = 5;

interface Props {
  view: RefObject<HTMLElement | null>;
  onRegion: (outline: Pair[], event: PointerEvent) => void;
}

/** Draws the rectangle or outline that the pointer describes over the model. */
export function RegionOverlay({ view, onRegion }: Props) {
  const tool = usePick((s) => s.tool);
  const task = useDesk((s) => s.task);
  const [outline, setOutline] = useState<Pair[]>([]);
  const drawn = useRef<Pair[]>([]);
  const armed = tool !== "click" && task === null;

  useEffect(() => {
    const place = view.current;
    if (!armed || !place) return;
    const at = (event: PointerEvent): Pair => {
      const box = place.getBoundingClientRect();
      return [event.clientX - box.left, event.clientY - box.top];
    };
    const show = (points: Pair[]) => {
      drawn.current = points;
      setOutline(points);
    };
    let began: Pair | null = null;
    const down = (event: PointerEvent) => {
      // Grips, bars and the other buttons keep what they do.
      if (event.button !== 0 || !(event.target instanceof HTMLCanvasElement)) return;
      began = at(event);
      show([began]);
      event.stopPropagation();
    };
    const move = (event: PointerEvent) => {
      if (!began) return;
      const now = at(event);
      show(tool === "rectangle" ? [began, [now[0], began[1]], now, [began[0], now[1]]] : [...drawn.current, now]);
    };
    const up = (event: PointerEvent) => {
      if (!began) return;
      const points = drawn.current;
      const far = points.some((p) => Math.hypot(p[0] - began![0], p[1] - began![1]) > STILL);
      began = null;
      show([]);
      if (!far || points.length < 3) return;
      event.stopPropagation();
      onRegion(points, event);
    };
    const leave = (event: KeyboardEvent) => {
      if (event.key !== "Escape" || !began) return;
      began = null;
      show([]);
      event.stopPropagation();
    };
    place.addEventListener("pointerdown", down, true);
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", up, true);
    window.addEventListener("keydown", leave, true);
    return () => {
      place.removeEventListener("pointerdown", down, true);
      window.removeEventListener("pointermove", move);
      window.removeEventListener("pointerup", up, true);
      window.removeEventListener("keydown", leave, true);
    };
  }, [armed, tool, view, onRegion]);

  if (outline.length < 2) return null;
  return (
    <svg className="pointer-events-none absolute inset-0 h-full w-full" aria-hidden>
      <polygon
        points={outline.map((p) => p.join()).join(" ")}
        className="fill-hand/15 stroke-hand"
        strokeDasharray="5 3"
      />
    </svg>
  );
}
