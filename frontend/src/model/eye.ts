/** Where the eye of the view stands: for drawings that lie over it, and for reading places under the hand. */

import {
  DoubleSide,
  Matrix4,
  OrthographicCamera,
  Ray,
  Raycaster,
  Vector2,
  Vector3,
  type Camera,
  type Plane,
} from "three";
import type { MeshBVH } from "three-mesh-bvh";
import { create } from "zustand";

import type { EyeSent, Finish, Pair, SavedView, Triple } from "../api/wire.gen";
import type { HeldKeys } from "./corners";
import { held, type ModelArrays } from "./geometry";
import { current, put } from "../state";
import { goTo } from "../state/look";

/** A picture that is asked for, in pixels; with edges, strokes and the pick, and with contact shadows, or without. */
export interface PictureAsked {
  width: number;
  height: number;
  drawing: boolean;
  shaded: boolean;
  transparent: boolean;
}

/** A finish as it was laid, the faces that it is laid on, and final (s', t') in mm by corner. */
export interface LaidCorners {
  finish: Finish;
  faces: Uint32Array;
  sheet: Float32Array;
}

export interface Eye {
  camera: Camera | null;
  /** What the eye turns about. */
  target: Vector3;
  /** From the view's coordinates to clip space. */
  matrix: Matrix4;
  width: number;
  height: number;
  bvh: MeshBVH | null;
  model: ModelArrays | null;
  /** The plane beyond which nothing is drawn; the drawn side is its positive one. */
  cut: Plane | null;
  /** What a click on the model does; grips over it pass on those that they do not need. */
  click: ((pixel: Pair, held: HeldKeys) => void) | null;
  /** Moves the eye by keys: round what it looks at (degrees), or closer (above 1) and off. */
  steer: { orbit: (right: number, up: number) => void; approach: (factor: number) => void } | null;
  /** The corners of a finish as the view shows them. */
  laidOf: ((key: string) => LaidCorners | null) | null;
  /** A small JPEG of what is seen, in base64. */
  picture: (() => string) | null;
  /** A picture of any size; told how much of it is drawn. */
  take: ((asked: PictureAsked, told: (share: number) => void) => Promise<HTMLCanvasElement>) | null;
}

export const useEye = create<Eye>(() => ({
  camera: null,
  target: new Vector3(),
  matrix: new Matrix4(),
  width: 1,
  height: 1,
  bvh: null,
  model: null,
  cut: null,
  click: null,
  steer: null,
  laidOf: null,
  picture: null,
  take: null,
}));

/** The pixel of a place in the view's coordinates, and whether it lies before the eye. */
export function pixelOf(eye: Eye, place: Vector3): { at: Pair; before: boolean } {
  const e = eye.matrix.elements;
  const { x, y, z } = place;
  const w = e[3] * x + e[7] * y + e[11] * z + e[15];
  const u = (e[0] * x + e[4] * y + e[8] * z + e[12]) / w;
  const v = (e[1] * x + e[5] * y + e[9] * z + e[13]) / w;
  return { at: [((u + 1) / 2) * eye.width, ((1 - v) / 2) * eye.height], before: w > 0 };
}

/** The ray from the eye through a pixel. */
export function rayAt(eye: Eye, [x, y]: Pair): Ray {
  const caster = new Raycaster();
  caster.setFromCamera(new Vector2((x / eye.width) * 2 - 1, 1 - (y / eye.height) * 2), eye.camera!);
  return caster.ray;
}

/** The face and place of the model under a pixel, in the view's coordinates; what is not drawn is passed. */
export function modelAt(eye: Eye, pixel: Pair): { face: number; point: Vector3 } | null {
  const { bvh, model } = eye;
  if (!bvh || !model) return null;
  const ray = rayAt(eye, pixel);
  const { mask } = current().hidden;
  const named = (hit: { faceIndex?: number | null; point: Vector3 } | null | undefined) =>
    hit?.faceIndex == null ? null : { face: model.triangleFace[hit.faceIndex]!, point: hit.point };
  if (mask.length === 0 && !eye.cut) return named(bvh.raycastFirst(ray, DoubleSide));
  const hits = bvh.raycast(ray, DoubleSide).sort((a, b) => a.distance - b.distance);
  for (const hit of hits) {
    const found = named(hit);
    if (found && !held(mask, found.face) && !(eye.cut && eye.cut.distanceToPoint(found.point) < 0)) return found;
  }
  return null;
}

/** Directions in model axes: towards the viewer, and to the right on the screen. */
export function lookingFrom(eye: Eye): { towards: Triple; right: Triple } {
  const m = eye.camera!.matrixWorld.elements;
  return { towards: [m[8], m[9], m[10]], right: [m[0], m[1], m[2]] };
}

export const isStraight = (eye: Eye) => eye.camera instanceof OrthographicCamera;

/** How many mm a pixel stands for at a place. */
export function mmAPixel(eye: Eye, place: Vector3): number {
  const { right } = lookingFrom(eye);
  const a = pixelOf(eye, place).at;
  const b = pixelOf(eye, place.clone().add(new Vector3(...right))).at;
  return 1 / Math.max(Math.hypot(b[0] - a[0], b[1] - a[1]), 1e-9);
}

/** The eye as the server needs it to say what is seen. */
export function eyeSent(eye: Eye): EyeSent {
  const { clip, hidden } = current();
  return {
    matrix: [...eye.matrix.elements],
    size: [Math.round(eye.width), Math.round(eye.height)],
    clip,
    hidden: hidden.faces > 0 ? hidden.rule : null,
  };
}

/** The eye as it is kept with the project, in the model's own coordinates. */
export function savedFromEye(eye: Eye, origin: Triple): Omit<SavedView, "key" | "name" | "picture"> {
  const own = (p: Vector3): Triple => [p.x + origin[0], p.y + origin[1], p.z + origin[2]];
  const camera = eye.camera!;
  const flat = camera instanceof OrthographicCamera;
  return {
    position_mm: own(camera.position),
    target_mm: own(eye.target),
    up: [camera.up.x, camera.up.y, camera.up.z],
    height_mm: flat ? (camera.top - camera.bottom) / camera.zoom : null,
    clip: current().clip,
    light: current().light,
  };
}

/** Sends the eye to a kept view, with its cut and its light. */
export function goToSaved(view: SavedView, origin: Triple) {
  const near = (p: Triple) => p.map((v, k) => v - origin[k]!) as Triple;
  put({ clip: view.clip, ...(view.light && { light: view.light }) });
  goTo(view.height_mm === null ? "around" : "front", false, {
    position: near(view.position_mm),
    target: near(view.target_mm),
    up: view.up,
    heightMm: view.height_mm,
  });
}
