/** Where the eye stands: perspective from around, or straight views in parallel projection. */

import { Box3, OrthographicCamera, PerspectiveCamera, Vector3 } from "three";

import type { EyeView, SavedEye } from "../state/eyes";

export const STRAIGHT = {
  top: new Vector3(0, 0, 1),
  front: new Vector3(0, -1, 0),
  right: new Vector3(1, 0, 0),
  back: new Vector3(0, 1, 0),
  left: new Vector3(-1, 0, 0),
  below: new Vector3(0, 0, -1),
} as const;

const FROM_AROUND = new Vector3(-0.55, -1, 0.42).normalize();

export interface Eye {
  camera: PerspectiveCamera | OrthographicCamera;
  target: Vector3;
}

/** The share of the view's height and width that what is framed fills. */
const CLEAR = 0.92;
const FIELD_DEG = 35;

/** A camera that shows all the points (x, y, z, …) from a side, or from the direction given. */
export function eyeFor(points: Float32Array, view: EyeView, aspect: number, towards?: Vector3): Eye {
  const direction = towards ?? (view === "around" ? FROM_AROUND : STRAIGHT[view]);
  // Seen from straight above or below, the model's y is up on the sheet.
  const up = view === "top" || view === "below" ? new Vector3(0, 1, 0) : new Vector3(0, 0, 1);
  const right = up.clone().cross(direction).normalize();
  const upwards = direction.clone().cross(right);
  const box = new Box3().setFromArray(points);
  const target = box.getCenter(new Vector3());
  const radius = Math.max(box.getSize(new Vector3()).length() / 2, 1e-3);

  let frame = framed(points, target, right, upwards, direction, 0);
  if (view !== "around") {
    target.addScaledVector(right, frame.x).addScaledVector(upwards, frame.y);
    const halfHeight = Math.max(frame.halfHeight, frame.halfWidth / aspect, radius * 0.01) / CLEAR;
    const camera = new OrthographicCamera(-halfHeight * aspect, halfHeight * aspect, halfHeight, -halfHeight);
    return placed(camera, target, direction, up, radius, radius * 4);
  }
  const tangent = Math.tan((FIELD_DEG / 2) * (Math.PI / 180));
  // How far off everything fits depends on how near its nearest points come, so this settles in steps.
  let distance = radius * 3;
  for (let step = 0; step < 4; step++) {
    frame = framed(points, target, right, upwards, direction, distance);
    target.addScaledVector(right, frame.x * distance).addScaledVector(upwards, frame.y * distance);
    distance *= Math.max(frame.halfHeight / tangent, frame.halfWidth / (tangent * aspect)) / CLEAR;
    distance = Math.max(distance, radius * 0.05);
  }
  return placed(new PerspectiveCamera(FIELD_DEG, aspect), target, direction, up, radius, distance);
}

/** The eye as it was saved. */
export function eyeAgain(points: Float32Array, saved: SavedEye, aspect: number): Eye {
  const target = new Vector3(...saved.target);
  const direction = new Vector3(...saved.position).sub(target);
  const distance = direction.length();
  direction.normalize();
  const radius = Math.max(new Box3().setFromArray(points).getSize(new Vector3()).length() / 2, 1e-3);
  const half = (saved.heightMm ?? 1) / 2;
  const camera =
    saved.heightMm === null
      ? new PerspectiveCamera(FIELD_DEG, aspect)
      : new OrthographicCamera(-half * aspect, half * aspect, half, -half);
  return placed(camera, target, direction, new Vector3(...saved.up), radius, distance);
}

interface Frame {
  x: number;
  y: number;
  halfWidth: number;
  halfHeight: number;
}

/** What the points fill on the sheet: in mm, or with a distance in tangents as that eye sees them. */
function framed(
  points: Float32Array,
  target: Vector3,
  right: Vector3,
  upwards: Vector3,
  direction: Vector3,
  distance: number,
): Frame {
  const low = [Infinity, Infinity];
  const high = [-Infinity, -Infinity];
  const point = new Vector3();
  for (let at = 0; at < points.length; at += 3) {
    point.fromArray(points, at).sub(target);
    const depth = distance ? Math.max(distance - point.dot(direction), distance * 0.05) : 1;
    const place = [point.dot(right) / depth, point.dot(upwards) / depth];
    for (const axis of [0, 1]) {
      low[axis] = Math.min(low[axis]!, place[axis]!);
      high[axis] = Math.max(high[axis]!, place[axis]!);
    }
  }
  return {
    x: (low[0]! + high[0]!) / 2,
    y: (low[1]! + high[1]!) / 2,
    halfWidth: (high[0]! - low[0]!) / 2,
    halfHeight: (high[1]! - low[1]!) / 2,
  };
}

function placed(
  camera: PerspectiveCamera | OrthographicCamera,
  target: Vector3,
  direction: Vector3,
  up: Vector3,
  radius: number,
  distance: number,
): Eye {
  // Else the canvas would put its own size in pixels, taken for mm, in the place of a parallel view's.
  Object.assign(camera, { manual: true });
  camera.position.copy(target).addScaledVector(direction, distance);
  camera.up.copy(up);
  camera.near = Math.max(distance / 2000, 1e-2);
  camera.far = distance + radius * 60;
  camera.lookAt(target);
  camera.updateProjectionMatrix();
  return { camera, target };
}
