/** Turning the eye about a place, with the model's z upright. */

import { Vector3, type Camera } from "three";

const UP = new Vector3(0, 0, 1);

/** How near the eye may come to looking straight up or down, in radians. */
const POLE = 0.02;

/**
 * Turns the eye and what it looks at about a pivot: to the right round the upright, and upwards round the screen's own
 * horizontal. Angles in radians. The pivot keeps its place on the screen.
 */
export function orbit(camera: Camera, target: Vector3, pivot: Vector3, right: number, up: number) {
  // What is turned may be the pivot itself.
  const about = pivot.clone();
  const away = camera.position.clone().sub(target);
  const polar = Math.acos(Math.min(1, Math.max(-1, away.clone().normalize().dot(UP))));
  const tilt = Math.min(Math.PI - POLE, Math.max(POLE, polar - up)) - polar;
  const across = new Vector3().crossVectors(UP, away).normalize();
  for (const place of [camera.position, target]) {
    place.sub(about).applyAxisAngle(across, tilt).applyAxisAngle(UP, -right).add(about);
  }
  camera.up.copy(UP);
  camera.lookAt(target);
}
