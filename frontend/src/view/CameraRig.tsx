import { useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import { Box3, MOUSE, OrthographicCamera, PerspectiveCamera, Vector3 } from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";

import type { Project } from "../api/types";
import { useWorkbench } from "../workbench/store";
import { eyeFor } from "./cameras";
import { trianglesOf, type ModelArrays } from "./geometry";

/** Orbit, pan and zoom; goes where the workbench asks: a straight view, or close to the pick. */
export function CameraRig({ project, model }: { project: Project; model: ModelArrays }) {
  const { gl, set, size, invalidate, camera } = useThree();
  const going = useWorkbench((s) => s.going);
  const controls = useRef<OrbitControls | null>(null);
  const aspect = size.width / Math.max(size.height, 1);
  const latest = useRef({ aspect, camera });
  latest.current = { aspect, camera };

  useEffect(() => {
    const before = controls.current;
    const { view, toPick } = going;
    const mask = useWorkbench.getState().pick.mask;
    const box = (toPick && boxOfPick(model, mask)) || boxOfModel(project);
    const from = toPick && before ? latest.current.camera.position.clone().sub(before.target).normalize() : undefined;
    const eye = eyeFor(box, view, latest.current.aspect, from);
    const made = new OrbitControls(eye.camera, gl.domElement);
    made.mouseButtons = { LEFT: MOUSE.ROTATE, MIDDLE: MOUSE.PAN, RIGHT: MOUSE.PAN };
    made.enableDamping = false;
    made.zoomToCursor = true;
    // A straight view stays straight: it is panned and zoomed, not turned.
    made.enableRotate = view === "around";
    made.target.copy(eye.target);
    made.addEventListener("change", () => invalidate());
    made.update();
    controls.current = made;
    set({ camera: eye.camera as never });
    invalidate();
    return () => made.dispose();
  }, [going, model, project.model.mesh, gl, set, invalidate]); // eslint-disable-line react-hooks/exhaustive-deps -- edits must not move the camera

  useEffect(() => {
    if (camera instanceof PerspectiveCamera) {
      camera.aspect = aspect;
    } else if (camera instanceof OrthographicCamera) {
      camera.right = camera.top * aspect;
      camera.left = -camera.right;
    }
    camera.updateProjectionMatrix();
    invalidate();
  }, [aspect, camera, invalidate]);

  return null;
}

function boxOfModel(project: Project): Box3 {
  const [low, high] = project.model.bounds_mm;
  const origin = new Vector3(...project.model.view_origin_mm);
  return new Box3(new Vector3(...low).sub(origin), new Vector3(...high).sub(origin));
}

function boxOfPick(model: ModelArrays, mask: Uint8Array): Box3 | null {
  const corners = trianglesOf(model, mask);
  if (corners.length === 0) return null;
  const box = new Box3();
  const point = new Vector3();
  for (const corner of corners) box.expandByPoint(point.fromBufferAttribute(model.position, corner));
  return box;
}
