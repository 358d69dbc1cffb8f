/** How near and how far the eye sees: close up nothing is cut away, and far off depths are still told apart. */

import { PerspectiveCamera, type Camera } from "three";

import type { ModelArrays } from "../model/geometry";

/** The nearest plane lies at this share of the way to the nearest face. */
const SHARE = 0.5;
/** It is never nearer than this many mm, and depths reach no further than this times it. */
const NEAREST = 0.05;
const DEEPEST = 200_000;

/** Sets the near plane by what lies nearest to the eye. */
export function keepClear(camera: Camera, model: ModelArrays) {
  if (!(camera instanceof PerspectiveCamera)) return;
  const nearest = model.bvh.closestPointToPoint(camera.position)?.distance ?? camera.far;
  const near = Math.max(nearest * SHARE, NEAREST, camera.far / DEEPEST);
  if (Math.abs(near - camera.near) < 0.05 * camera.near) return;
  camera.near = near;
  camera.updateProjectionMatrix();
}
