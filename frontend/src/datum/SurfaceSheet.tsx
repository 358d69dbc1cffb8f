import { useMemo, useRef, type PointerEvent as ReactPointerEvent } from "react";
import { Vector3 } from "three";

import type { Finish, Pair, Project } from "../api/wire.gen";
import { pixelOf, type Eye } from "../model/eye";
import { rawOf } from "../model/placement";
import { Grip, Stroke } from "./marks";
import { shiftSheet, sizeSheet, turnSheet, type Ground, type Motion, type Moved, type Scene } from "./motions";
import { broughtInView, facing, laidTriangles, linesOver, placeOf, surfaceGround } from "./surfaceGround";

interface Props {
  project: Project;
  stored: Finish;
  /** As it is under the hand. */
  finish: Finish;
  eye: Eye;
  begin: (finish: Finish, motion: Motion, event: ReactPointerEvent) => void;
}

/** Finishes of more triangles are moved by figures alone: their outline would lag behind the hand. */
const MOST = 60_000;

/** The outline of one repeat where it lies on the surface: drag it to shift, an edge to size, the far corner to turn. */
export function SurfaceSheet({ project, stored, finish, eye, begin }: Props) {
  const laid = eye.laidOf?.(stored.key) ?? null;
  const { model } = eye;
  const key = laid?.finish.laying_key;
  const triangles = useMemo(() => {
    const found = model && laid && stored.one_sheet ? laidTriangles(model, laid) : [];
    return found.length > MOST ? [] : found;
    // The corners change with the key, in place.
    // oxlint-disable-next-line react/exhaustive-deps
  }, [model, key, stored.one_sheet]);
  const material = project.materials[stored.material];
  // The repeat that is drawn stays the same one while it is dragged.
  const from = useRef<Finish | null>(null);
  if (!material || triangles.length === 0) return null;
  const { repeat_mm } = material;
  if (finish === stored || !from.current) from.current = broughtInView(eye, triangles, stored, repeat_mm);
  const placed = moved(stored, from.current, finish);
  const raw = (u: number, v: number) => rawOf(placed, [u * repeat_mm[0], v * repeat_mm[1]]);
  const seen = facing(eye);
  const edges = (
    [
      [0, 0, 1, 0],
      [1, 0, 1, 1],
      [1, 1, 0, 1],
      [0, 1, 0, 0],
    ] as const
  ).map(([a, b, c, d]) => linesOver(triangles, raw(a, b), raw(c, d), seen));
  const pixels = ([a, b]: [Vector3, Vector3]) => `M${of(eye, a)}L${of(eye, b)}`;
  const scene: Scene = {
    eye,
    finish: from.current,
    datum: { origin_mm: [0, 0, 0], x_axis: [1, 0, 0], z_axis: [0, 0, 1] },
    viewOrigin: project.model.view_origin_mm,
    others: [],
  };
  const ground = () => surfaceGround(eye, triangles, project.model.view_origin_mm);
  const drag = (make: (ground: Ground, start: Pair) => Motion) => (event: ReactPointerEvent) => {
    const box = event.currentTarget.closest("svg")!.getBoundingClientRect();
    begin(stored, about(scene.finish, make(ground(), [event.clientX - box.left, event.clientY - box.top])), event);
  };
  const grip = (u: number, v: number): Pair | null => {
    const place = placeOf(triangles, raw(u, v));
    return place && pixelOf(eye, place).before ? pixelOf(eye, place).at : null;
  };
  const grips = [
    {
      at: grip(0.5, 0.5),
      shape: "move",
      label: "Shift the sheet",
      id: "sheet",
      make: drag((g, start) => shiftSheet(scene, g, start)),
    },
    {
      at: grip(1, 0.5),
      shape: "size",
      label: "Size the repeat along",
      id: "sheet-width",
      make: drag((g) => sizeSheet(scene, g, 0)),
    },
    {
      at: grip(0.5, 1),
      shape: "size",
      label: "Size the repeat up",
      id: "sheet-height",
      make: drag((g) => sizeSheet(scene, g, 1)),
    },
    {
      at: grip(1, 1),
      shape: "turn",
      label: "Turn the sheet",
      id: "sheet-turn",
      make: drag((g) => turnSheet(scene, g, repeat_mm)),
    },
  ] as const;
  return (
    <g>
      {edges.map((pieces, k) => (
        <Stroke key={k} d={pieces.map(pixels).join("")} look="sheet" />
      ))}
      {grips.map(({ at, shape, label, id, make }) =>
        at ? <Grip key={id} shape={shape} at={at} label={label} testid={id} onDown={make} /> : null,
      )}
    </g>
  );
}

/** A drag about the repeat that is drawn: the sheet is stored from there, or it would turn about another one. */
function about(from: Finish, motion: Motion): Motion {
  const placed = (moved: Moved): Moved => ({
    ...moved,
    change: { ...moved.change, offset_mm: moved.change.offset_mm ?? from.offset_mm },
  });
  return {
    ...motion,
    move: (pixel, held) => {
      const found = motion.move(pixel, held);
      return found && placed(found);
    },
    typed: (values) => placed(motion.typed(values)),
  };
}

const of = (eye: Eye, place: Vector3) =>
  pixelOf(eye, place)
    .at.map((v) => v.toFixed(1))
    .join(" ");

/** The repeat that is drawn, as far as the hand has moved the finish from where it was stored. */
function moved(stored: Finish, from: Finish, now: Finish): Finish {
  const offset = now.offset_mm === stored.offset_mm ? from.offset_mm : now.offset_mm;
  return { ...now, offset_mm: offset };
}
