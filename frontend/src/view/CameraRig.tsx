import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import { MOUSE, OrthographicCamera, PerspectiveCamera } from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";

import { eyeAgain, eyeFor } from "./cameras";
import { useEye } from "../model/eye";
import { trianglesOf, type ModelArrays } from "../model/geometry";
import { current } from "../state";
import { useLook } from "../state/look";

/** Orbit, pan and zoom; goes where the workbench asks: a straight view, or close to the pick. */
export function CameraRig({ model }: { model: ModelArrays }) {
  const { gl, set, size, invalidate, camera } = useThree();
  const going = useLook((s) => s.going);
  const turning = useLook((s) => s.turning);
  const controls = useRef<OrbitControls | null>(null);
  const aspect = size.width / Math.max(size.height, 1);
  const latest = useRef({ aspect, camera });
  latest.current = { aspect, camera };

  useEffect(() => {
    const before = controls.current;
    const { view, toPick, saved } = going;
    const mask = current().pick.mask;
    const picked = toPick ? trianglesOf(model, mask) : new Uint32Array(0);
    const points = picked.length > 0 ? pointsOf(model, picked) : pointsOf(model, model.index);
    const from = toPick && before ? latest.current.camera.position.clone().sub(before.target).normalize() : undefined;
    const eye = saved
      ? eyeAgain(points, saved, latest.current.aspect)
      : eyeFor(points, view, latest.current.aspect, from);
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
    useEye.setState({ target: made.target });
    set({ camera: eye.camera as never });
    invalidate();
    return () => made.dispose();
  }, [going, model, gl, set, invalidate]);

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

  useEffect(() => {
    if (controls.current) controls.current.autoRotate = turning;
    invalidate();
  }, [turning, invalidate]);
  // A turntable goes round once in half a minute, whatever the frame rate.
  useFrame((_, seconds) => {
    if (!turning || !controls.current) return;
    controls.current.autoRotateSpeed = 2;
    controls.current.update(Math.min(seconds, 0.1));
    invalidate();
  });

  return null;
}

/** More points than this say nothing more about where a model ends. */
const ENOUGH = 60_000;

function pointsOf(model: ModelArrays, corners: Uint32Array): Float32Array {
  const step = Math.max(1, Math.floor(corners.length / ENOUGH));
  const out = new Float32Array(Math.ceil(corners.length / step) * 3);
  for (let k = 0; k * step < corners.length; k++) {
    const from = corners[k * step]! * 3;
    out.set(model.position.array.subarray(from, from + 3), k * 3);
  }
  return out;
}
