import { useEffect, useRef, useState, type RefObject } from "react";
import type { Vector3 } from "three";

import { useEdits } from "../api/project";
import type { Finish, Pair, Project, Triple } from "../api/wire.gen";
import { linedOf } from "../model/lined";
import { modelAt, useEye } from "../model/eye";
import { put } from "../state";
import { useDesk } from "../state/desk";

/** Places of a stroke closer together on the screen than this are one. */
const STEP = 6;

interface Props {
  project: Project;
  view: RefObject<HTMLElement | null>;
}

/** Draws the line that the grain shall follow, on the model under the pointer; the pattern follows while it is drawn. */
export function StrokeOverlay({ project, view }: Props) {
  const task = useDesk((s) => s.task);
  const finish = task?.what === "line" ? project.finishes.find((f) => f.key === task.finish) : undefined;
  const [drawn, setDrawn] = useState<Pair[]>([]);
  useDrawing(project, finish, view, setDrawn);
  if (drawn.length < 2) return null;
  return (
    <svg className="pointer-events-none absolute inset-0 h-full w-full" aria-hidden data-testid="stroke">
      <polyline points={drawn.map((p) => p.join()).join(" ")} className="fill-none stroke-sheet/75" strokeWidth={5} />
      <polyline points={drawn.map((p) => p.join()).join(" ")} className="fill-none stroke-hand" strokeWidth={2.5} />
    </svg>
  );
}

function useDrawing(
  project: Project,
  finish: Finish | undefined,
  view: RefObject<HTMLElement | null>,
  show: (pixels: Pair[]) => void,
) {
  const { run } = useEdits(project.id);
  const [x, y, z] = project.model.view_origin_mm;
  const pixels = useRef<Pair[]>([]);
  const places = useRef<Triple[]>([]);
  useEffect(() => {
    const place = view.current;
    const laid = finish ? linedOf(finish.projection) : null;
    if (!place || !finish || !laid) return;
    let drawing = false;
    const lines = () => [...laid.lines, { points: places.current }];
    const inModel = (p: Vector3): Triple => [p.x + x, p.y + y, p.z + z];
    const add = (event: PointerEvent) => {
      const box = place.getBoundingClientRect();
      const at: Pair = [event.clientX - box.left, event.clientY - box.top];
      const last = pixels.current.at(-1);
      if (last && Math.hypot(at[0] - last[0], at[1] - last[1]) < STEP) return;
      const hit = modelAt(useEye.getState(), at);
      if (!hit) return;
      pixels.current = [...pixels.current, at];
      places.current = [...places.current, inModel(hit.point)];
      show(pixels.current);
      if (places.current.length > 1) put({ live: { finish: finish.key, projection: { ...laid, lines: lines() } } });
    };
    const clear = () => {
      drawing = false;
      pixels.current = [];
      places.current = [];
      show([]);
    };
    const down = (event: PointerEvent) => {
      if (event.button !== 0 || !(event.target instanceof HTMLCanvasElement)) return;
      clear();
      drawing = true;
      event.stopPropagation();
      add(event);
    };
    const move = (event: PointerEvent) => drawing && add(event);
    const up = (event: PointerEvent) => {
      if (!drawing) return;
      event.stopPropagation();
      const kept = lines();
      const enough = places.current.length > 1;
      clear();
      if (!enough) return;
      put({ live: { finish: finish.key, projection: { ...laid, lines: kept }, settling: true } });
      run({ kind: "set_options", finishes: [finish.key], options: { kind: laid.kind, lines: kept } });
    };
    const leave = (event: KeyboardEvent) => {
      if (event.key !== "Escape" || !drawing) return;
      clear();
      put({ live: null });
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
  }, [finish, view, run, show, x, y, z]);
}
