import { useEffect, useMemo, useRef, useState, type RefObject } from "react";
import type { Vector3 } from "three";

import { useEdits } from "../api/project";
import type { Coat, Finish, Pair, Project, Triple } from "../api/wire.gen";
import { leavesOf } from "../coats/laid";
import { linedOf } from "../model/lined";
import { mmAPixel, modelAt, useEye } from "../model/eye";
import { put } from "../state";
import { useDesk } from "../state/desk";

/** Places of a stroke closer together on the screen than this are one. */
const STEP = 6;

interface Props {
  project: Project;
  view: RefObject<HTMLElement | null>;
}

/** What becomes of a stroke while it is drawn, and once it is. */
interface Drawing {
  /** Fewer places are no stroke. */
  least: number;
  /** How wide it is drawn, mm; null for a line. */
  radiusMm: number | null;
  live: (places: Triple[]) => void;
  done: (places: Triple[]) => void;
}

/** Draws on the model under the pointer: the line that the grain shall follow, or where a coat shall lie. */
export function StrokeOverlay({ project, view }: Props) {
  const line = useLine(project);
  const brush = useBrush(project);
  const drawing = line ?? brush;
  const [drawn, setDrawn] = useState<Pair[]>([]);
  useDrawing(project, drawing, view, setDrawn);
  if (!drawing || drawn.length < drawing.least) return null;
  const points = (drawn.length === 1 ? [...drawn, drawn[0]!] : drawn).map((p) => p.join()).join(" ");
  if (drawing.radiusMm === null) {
    return (
      <svg className="pointer-events-none absolute inset-0 h-full w-full" aria-hidden data-testid="stroke">
        <polyline points={points} className="fill-none stroke-sheet/75" strokeWidth={5} />
        <polyline points={points} className="fill-none stroke-hand" strokeWidth={2.5} />
      </svg>
    );
  }
  const eye = useEye.getState();
  const hit = modelAt(eye, drawn[0]!);
  const width = hit ? (2 * drawing.radiusMm) / mmAPixel(eye, hit.point) : 6;
  return (
    <svg className="pointer-events-none absolute inset-0 h-full w-full" aria-hidden data-testid="stroke">
      <polyline
        points={points}
        className="fill-none stroke-hand/45"
        strokeLinecap="round"
        strokeLinejoin="round"
        strokeWidth={Math.max(width, 2)}
      />
    </svg>
  );
}

/** The line that the grain follows: the pattern follows while it is drawn. */
function useLine(project: Project): Drawing | null {
  const { run } = useEdits(project.id);
  const task = useDesk((s) => s.task);
  const finish = task?.what === "line" ? project.finishes.find((f) => f.key === task.finish) : undefined;
  return useMemo(() => {
    const laid = finish ? linedOf(finish.projection) : null;
    if (!finish || !laid) return null;
    const lines = (points: Triple[]) => [...laid.lines, { points }];
    return {
      least: 2,
      radiusMm: null,
      live: (points) => put({ live: { finish: finish.key, projection: { ...laid, lines: lines(points) } } }),
      done: (points) => {
        const kept = lines(points);
        put({ live: { finish: finish.key, projection: { ...laid, lines: kept }, settling: true } });
        run({ kind: "set_options", finishes: [finish.key], options: { kind: laid.kind, lines: kept } });
      },
    };
  }, [finish, run]);
}

/** Where a coat lies, drawn with a brush. */
function useBrush(project: Project): Drawing | null {
  const { run } = useEdits(project.id);
  const task = useDesk((s) => s.task);
  const radius = useDesk((s) => s.brushMm) ?? brushOf(project);
  const brushed = task?.what === "brush" ? task : null;
  const finish = project.finishes.find((f) => f.key === brushed?.finish);
  const row = brushed?.row ?? 0;
  return useMemo(() => {
    const coat = finish?.coats[row];
    if (!finish || !coat) return null;
    return {
      least: 1,
      radiusMm: radius,
      live: () => undefined,
      done: (points) =>
        run({ kind: "set_coats", finishes: [finish.key], coats: brushedOn(finish, row, points, radius) }),
    };
  }, [finish, row, radius, run]);
}

/** The radius of the brush where none is stated: a hand's width on a wall. */
export const brushOf = (project: Project) => project.model.checker_mm;

function brushedOn(finish: Finish, row: number, points_mm: Triple[], radius_mm: number): Coat[] {
  return finish.coats.map((coat, at) => {
    const leaf = at === row ? leavesOf(coat.where).find(({ mask }) => "strokes" in mask) : undefined;
    if (!leaf || !("strokes" in leaf.mask)) return coat;
    const { strokes } = leaf.mask;
    return {
      ...coat,
      where: leaf.put({ strokes: { ...strokes, lines: [...strokes.lines, { points_mm, radius_mm }] } }),
    };
  });
}

function useDrawing(
  project: Project,
  wanted: Drawing | null,
  view: RefObject<HTMLElement | null>,
  show: (pixels: Pair[]) => void,
) {
  const [x, y, z] = project.model.view_origin_mm;
  const pixels = useRef<Pair[]>([]);
  const places = useRef<Triple[]>([]);
  useEffect(() => {
    const place = view.current;
    if (!place || !wanted) return;
    let drawing = false;
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
      if (places.current.length >= wanted.least) wanted.live(places.current);
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
      const drawn = places.current;
      clear();
      if (drawn.length >= wanted.least) wanted.done(drawn);
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
  }, [wanted, view, show, x, y, z]);
}
