/** Where the eye stands: perspective from around, or straight views in parallel projection. */

import { Box3, OrthographicCamera, PerspectiveCamera, Sphere, Vector3 } from "three";

export const STRAIGHT = {
  top: new Vector3(0, 0, 1),
  front: new Vector3(0, -1, 0),
  right: new Vector3(1, 0, 0),
  back: new Vector3(0, 1, 0),
  left: new Vector3(-1, 0, 0),
  below: new Vector3(0, 0, -1),
} as const;

export type StraightView = keyof typeof STRAIGHT;
export type EyeView = StraightView | "around";

const FROM_AROUND = new Vector3(-0.55, -1, 0.42).normalize();

export interface Eye {
  camera: PerspectiveCamera | OrthographicCamera;
  target: Vector3;
}

/** A camera that shows the whole box from the given side; `towards` keeps the present direction. */
export function eyeFor(box: Box3, view: EyeView, aspect: number, towards?: Vector3): Eye {
  const sphere = box.getBoundingSphere(new Sphere());
  const radius = Math.max(sphere.radius, 1e-3);
  const direction = towards ?? (view === "around" ? FROM_AROUND : STRAIGHT[view]);
  const target = sphere.center.clone();
  if (view === "around") {
    const camera = new PerspectiveCamera(35, aspect);
    const distance = distanceFor(box, target, direction, Math.tan((camera.fov / 2) * (Math.PI / 180)), aspect);
    camera.position.copy(target).addScaledVector(direction, distance);
    return { camera: aimed(camera, target, radius, distance), target };
  }
  const camera = new OrthographicCamera();
  const distance = radius * 4;
  camera.position.copy(target).addScaledVector(direction, distance);
  const size = box.getSize(new Vector3());
  const across = view === "left" || view === "right" ? size.y : size.x;
  const upwards = view === "top" || view === "below" ? size.y : size.z;
  const halfHeight = Math.max(upwards / CLEAR, across / aspect, radius * 0.02) * 0.53;
  camera.top = halfHeight;
  camera.bottom = -halfHeight;
  camera.right = halfHeight * aspect;
  camera.left = -camera.right;
  // Seen from straight above or below, the model's y is up on the sheet.
  if (view === "top" || view === "below") camera.up.set(0, 1, 0);
  return { camera: aimed(camera, target, radius, distance), target };
}

/** The share of the view's height that the bars over it leave clear. */
const CLEAR = 0.8;

/** How far the eye must stand off for every corner of the box to lie within the frame, and a little more. */
function distanceFor(box: Box3, target: Vector3, direction: Vector3, tangent: number, aspect: number): number {
  const right = new Vector3(0, 0, 1).cross(direction).normalize();
  const upwards = direction.clone().cross(right);
  let distance = 0;
  for (let k = 0; k < 8; k++) {
    const corner = new Vector3(
      k & 1 ? box.max.x : box.min.x,
      k & 2 ? box.max.y : box.min.y,
      k & 4 ? box.max.z : box.min.z,
    ).sub(target);
    const across = Math.abs(corner.dot(right)) / (tangent * aspect);
    const reach = Math.max(across, Math.abs(corner.dot(upwards)) / (tangent * CLEAR));
    distance = Math.max(distance, corner.dot(direction) + reach);
  }
  return distance * 1.04;
}

function aimed<C extends PerspectiveCamera | OrthographicCamera>(
  camera: C,
  target: Vector3,
  radius: number,
  distance: number,
): C {
  if (camera.up.y !== 1 || camera instanceof PerspectiveCamera || camera.position.z === target.z) {
    camera.up.set(0, 0, 1);
  }
  camera.near = Math.max(distance / 2000, 1e-2);
  camera.far = distance + radius * 60;
  camera.lookAt(target);
  camera.updateProjectionMatrix();
  return camera;
}
