/** What each grip of the datum does while it is dragged: a place under the hand becomes a change of the finish. */

import { Plane, Ray, Vector3 } from "three";

import type { Chart, Datum, Finish, Pair, Projection, Triple } from "../api/wire.gen";
import { isStraight, lookingFrom, mmAPixel, modelAt, pixelOf, rayAt, type Eye } from "../model/eye";
import { rawOf } from "../model/placement";
import { angleAbout, axesOf, datumMatrix, meets, movedBy, placeOn, sheetAt, triple, turnedBy, vec } from "./frame";
import { handy, nearest, NEAR_PIXELS, snappedAngle, type Candidate } from "./snapping";
import { type Live } from "../state/hand";

export type Change = Omit<Live, "finish" | "settling">;

/** What a drag makes of a place under the hand. */
export interface Moved {
  change: Change;
  /** The numbers shown, in mm or degrees. */
  values: number[];
  /** What it snapped to. */
  at?: string;
}

export interface Motion {
  label: string;
  /** Of the numbers; a direction has none. */
  unit: "mm" | "°" | "";
  move: (pixel: Pair, held: { shift: boolean; alt: boolean }) => Moved | null;
  /** The same from numbers typed in place of it. */
  typed: (values: number[]) => Moved;
}

export interface Scene {
  eye: Eye;
  finish: Finish;
  /** What the projection measures from; of one that follows the surface the model's own axes. */
  datum: Datum;
  viewOrigin: Triple;
  others: { name: string; datum: Datum }[];
}

const toView = (scene: Scene, p: Vector3) => p.clone().sub(vec(scene.viewOrigin));
const toModel = (scene: Scene, p: Vector3) => p.clone().add(vec(scene.viewOrigin));

/** The ray through a pixel, in model coordinates. */
function ray(scene: Scene, pixel: Pair): Ray {
  const found = rayAt(scene.eye, pixel).clone();
  found.origin.add(vec(scene.viewOrigin));
  return found;
}

/** How far along a line from a point the ray passes nearest. */
function along(scene: Scene, pixel: Pair, from: Vector3, direction: Vector3): number {
  const r = ray(scene, pixel);
  const between = r.origin.clone().sub(from);
  const cosine = direction.dot(r.direction);
  const room = 1 - cosine * cosine;
  if (room < 1e-9) return 0;
  return (between.dot(direction) - cosine * between.dot(r.direction)) / room;
}

/** Corners and edge middles of the face under a pixel, and the origins of other datums. */
function candidates(scene: Scene, pixel: Pair): Candidate<Vector3>[] {
  const out: Candidate<Vector3>[] = [];
  const add = (what: string, view: Vector3) => {
    const { at, before } = pixelOf(scene.eye, view);
    if (before) out.push({ what, at: toModel(scene, view), pixel: at });
  };
  const model = scene.eye.model;
  const hit = modelAt(scene.eye, pixel);
  if (hit && model) {
    const first = model.faceStart[hit.face]!;
    const last = model.faceStart[hit.face + 1]!;
    const corners: Vector3[] = [];
    for (let corner = first; corner < last; corner++)
      corners.push(new Vector3().fromArray(model.position.array, corner * 3));
    corners.forEach((corner, k) => {
      add("corner", corner);
      add("middle of edge", corner.clone().lerp(corners[(k + 1) % corners.length]!, 0.5));
    });
  }
  for (const { name, datum } of scene.others) add(`datum of ${name}`, toView(scene, vec(datum.origin_mm)));
  return out;
}

const fine = (scene: Scene, mm: number) => handy(mm, mmAPixel(scene.eye, toView(scene, vec(scene.datum.origin_mm))));

/** Moves the datum along one of its axes. */
export function moveAlong(scene: Scene, axis: 0 | 1 | 2, start: Pair): Motion {
  const { datum } = scene;
  const direction = axesOf(datum)[axis];
  const by = (mm: number): Moved => ({
    change: { datum: movedBy(datum, direction.clone().multiplyScalar(mm)) },
    values: [mm],
  });
  return {
    label: `Move along ${"xyz"[axis]}`,
    unit: "mm",
    move: slide(scene, direction, start, by),
    typed: ([mm = 0]) => by(mm),
  };
}

/** What the hand makes of a slide from the scene's datum in one direction; by: what so many mm come to. */
export function slide(scene: Scene, direction: Vector3, start: Pair, by: (mm: number) => Moved): Motion["move"] {
  const from = vec(scene.datum.origin_mm);
  const begin = along(scene, start, from, direction);
  return (pixel, { alt }) => {
    const mm = along(scene, pixel, from, direction) - begin;
    const near = alt ? null : nearest(candidates(scene, pixel), pixel);
    const there = near ? near.at.clone().sub(from).dot(direction) : Infinity;
    // A place far before or behind the axis lies under the hand too, and is not meant.
    const reach = 1.5 * NEAR_PIXELS * mmAPixel(scene.eye, toView(scene, from));
    if (near && Math.abs(there - mm) <= reach) return { ...by(there), at: near.what };
    return by(alt ? mm : fine(scene, mm));
  };
}

/** Moves the datum over the model, or over the sheet of a straight view. */
export function moveFreely(scene: Scene): Motion {
  const { datum, eye } = scene;
  const from = vec(datum.origin_mm);
  const towards = vec(lookingFrom(eye).towards);
  const to = (place: Vector3): Moved => {
    const origin_mm = triple(place).map((v) => Math.round(v * 1e4) / 1e4) as Triple;
    return { change: { datum: { ...datum, origin_mm } }, values: [...origin_mm] };
  };
  // In a straight view the datum keeps its depth, as on a drawing.
  const flat = (p: Vector3) =>
    isStraight(eye) ? p.clone().addScaledVector(towards, from.clone().sub(p).dot(towards)) : p;
  return {
    label: "Origin",
    unit: "mm",
    move: (pixel, { alt }) => {
      const near = alt ? null : nearest(candidates(scene, pixel), pixel);
      if (near) return { ...to(flat(near.at)), at: near.what };
      const hit = isStraight(eye) ? null : modelAt(eye, pixel);
      if (hit) return to(toModel(scene, hit.point));
      const plane = new Plane().setFromNormalAndCoplanarPoint(towards, from);
      const place = ray(scene, pixel).intersectPlane(plane, new Vector3());
      return place && to(place);
    },
    typed: ([x = from.x, y = from.y, z = from.z]) => to(new Vector3(x, y, z)),
  };
}

/** Turns the datum about one of its axes. */
export function turnAbout(scene: Scene, axis: 0 | 1 | 2, start: Pair): Motion {
  const { datum } = scene;
  const about = axesOf(datum)[axis];
  const plane = new Plane().setFromNormalAndCoplanarPoint(about, vec(datum.origin_mm));
  const arm = (pixel: Pair) =>
    ray(scene, pixel).intersectPlane(plane, new Vector3())?.sub(vec(datum.origin_mm)) ?? null;
  const begin = arm(start);
  const by = (degrees: number): Moved => ({ change: { datum: turnedBy(datum, axis, degrees) }, values: [degrees] });
  return {
    label: `Turn about ${"xyz"[axis]}`,
    unit: "°",
    move: (pixel, { alt }) => {
      const now = arm(pixel);
      if (!begin || !now) return null;
      const angle = angleAbout(about, begin, now);
      const snapped = alt ? angle : snappedAngle(angle);
      return { ...by(snapped), at: snapped !== angle ? "15°" : undefined };
    },
    typed: ([degrees = 0]) => by(degrees),
  };
}

/** Sizes what a projection is rolled round or wrapped round: a radius, or one side of the box. */
export function sizeProjector(scene: Scene, projection: Projection, axis: 0 | 1): Motion {
  const { datum } = scene;
  const from = vec(datum.origin_mm);
  const direction = axesOf(datum)[axis];
  const sized = (reach: number): Moved => {
    const mm = Math.max(reach, 0.1);
    if (projection.kind === "box") {
      const size_mm: Triple = [...(projection.size_mm ?? [1, 1, 1])];
      size_mm[axis] = 2 * mm;
      return { change: { projection: { ...projection, size_mm } }, values: [2 * mm] };
    }
    return { change: { projection: { ...projection, radius_mm: mm } as Projection }, values: [mm] };
  };
  const box = projection.kind === "box";
  return {
    label: box ? `Size along ${"xy"[axis]}` : "Radius",
    unit: "mm",
    move: (pixel, { alt }) => {
      const mm = Math.abs(along(scene, pixel, from, direction));
      return sized(alt ? mm : fine(scene, mm));
    },
    typed: ([mm = 1]) => sized(box ? mm / 2 : mm),
  };
}

/** What a sheet lies on, as its drags need it. */
export interface Ground {
  /** Raw (s, t) under a pixel. */
  rawAt: (pixel: Pair) => Pair | null;
  /** Raw (s, t) of a place of the model, which is seen at a pixel. */
  rawOf: (place: Vector3, pixel: Pair) => Pair | null;
  /** The place of the model where raw (s, t) lies. */
  placeOn: (raw: Pair) => Vector3 | null;
  /** What goes once round where s begins again, 0 where it does not. */
  round: number;
}

/** The side of a projection that the sheet is drawn on. */
export function chartGround(scene: Scene, chart: Chart): Ground {
  const inverse = datumMatrix(scene.datum).invert();
  return {
    rawAt: (pixel) => {
      const place = meets(chart, ray(scene, pixel).applyMatrix4(inverse));
      return place && sheetAt(chart, place);
    },
    rawOf: (place) => sheetAt(chart, place.clone().applyMatrix4(inverse)),
    placeOn: (raw) => placeOn(chart, raw).applyMatrix4(datumMatrix(scene.datum)),
    round: chart.shape === "flat" ? 0 : 2 * Math.PI * chart.along_mm,
  };
}

/** Shifts the sheet. */
export function shiftSheet(scene: Scene, ground: Ground, start: Pair): Motion {
  const { finish } = scene;
  const begin = ground.rawAt(start);
  let last = begin;
  const { round } = ground;
  const to = (offset_mm: Pair): Moved => ({ change: { offset_mm }, values: [...offset_mm] });
  return {
    label: "Offset",
    unit: "mm",
    move: (pixel, { alt }) => {
      const now = ground.rawAt(pixel);
      if (!begin || !last || !now) return null;
      // Round the back the angle starts again; the hand goes on.
      if (round) now[0] += Math.round((last[0] - now[0]) / round) * round;
      last = now;
      const offset: Pair = [finish.offset_mm[0] + now[0] - begin[0], finish.offset_mm[1] + now[1] - begin[1]];
      if (alt) return to(offset);
      const place = ground.placeOn(offset);
      const corner = place && pixelOf(scene.eye, toView(scene, place)).at;
      const near = corner && nearest(candidates(scene, corner), corner);
      const snapped = near && ground.rawOf(near.at, near.pixel);
      if (near && snapped) return { ...to(snapped), at: near.what };
      return to([fine(scene, offset[0]), fine(scene, offset[1])]);
    },
    typed: ([a = 0, b = finish.offset_mm[1]]) => to([a, b]),
  };
}

/** Sizes the sheet by one edge of its outline; the other side follows unless Shift is held. */
export function sizeSheet(scene: Scene, ground: Ground, side: 0 | 1): Motion {
  const { finish } = scene;
  const sized = (mm: number, alone: boolean): Moved => {
    const factor = Math.max(mm, 0.1) / finish.repeat_mm[side];
    const scale = finish.scale.map((v, k) => (k === side || !alone ? v * factor : v)) as Pair;
    const values = finish.repeat_mm.map((v, k) => (k === side || !alone ? v * factor : v));
    return { change: { scale }, values: [values[side]!] };
  };
  return {
    label: side ? "Repeat height" : "Repeat width",
    unit: "mm",
    move: (pixel, { shift, alt }) => {
      const raw = ground.rawAt(pixel);
      if (!raw) return null;
      const turn = (finish.turn_deg * Math.PI) / 180;
      const [s, t] = [raw[0] - finish.offset_mm[0], raw[1] - finish.offset_mm[1]];
      const reach = side ? t * Math.cos(turn) - s * Math.sin(turn) : s * Math.cos(turn) + t * Math.sin(turn);
      return sized(alt ? Math.abs(reach) : fine(scene, Math.abs(reach)), shift);
    },
    typed: ([mm = finish.repeat_mm[side]]) => sized(mm, false),
  };
}

/** Turns the sheet by the far corner of its outline. */
export function turnSheet(scene: Scene, ground: Ground, cornerFinal: Pair): Motion {
  const { finish } = scene;
  const level = rawOf({ turn_deg: 0, offset_mm: [0, 0], scale: finish.scale }, cornerFinal);
  const upright = Math.atan2(level[1], level[0]);
  const to = (turn_deg: number): Moved => ({ change: { turn_deg }, values: [turn_deg] });
  return {
    label: "Turn",
    unit: "°",
    move: (pixel, { alt }) => {
      const raw = ground.rawAt(pixel);
      if (!raw) return null;
      const [s, t] = [raw[0] - finish.offset_mm[0], raw[1] - finish.offset_mm[1]];
      const angle = ((Math.atan2(t, s) - upright) * 180) / Math.PI;
      const whole = ((angle % 360) + 360) % 360;
      const snapped = alt ? Math.round(whole * 10) / 10 : snappedAngle(whole);
      const shown = Math.round((snapped % 360) * 10) / 10;
      return { ...to(shown), at: !alt && snapped !== whole ? "15°" : undefined };
    },
    typed: ([degrees = 0]) => to(degrees),
  };
}
