/** The eye of the view as a camera projection states it. */

import { Vector3 } from "three";

import type { Triple } from "../api/wire.gen";
import { useEye } from "./eye";

const rounded = (v: Vector3): Triple => [v.x, v.y, v.z].map((x) => Math.round(x * 1e4) / 1e4) as Triple;

/** Where the view's eye stands, what it looks at and its up, in model coordinates. */
export function cameraFrom(viewOrigin: Triple): { eye_mm: Triple; target_mm: Triple; up: Triple } {
  const { camera } = useEye.getState();
  const m = camera!.matrixWorld.elements;
  const eye = new Vector3(m[12], m[13], m[14]).add(new Vector3(...viewOrigin));
  const ahead = new Vector3(-m[8], -m[9], -m[10]).multiplyScalar(1000);
  return { eye_mm: rounded(eye), target_mm: rounded(eye.clone().add(ahead)), up: [m[4], m[5], m[6]] };
}
