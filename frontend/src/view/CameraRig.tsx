import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import { MathUtils, OrthographicCamera, PerspectiveCamera } from "three";
import { MOUSE, TOUCH } from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";

import { useEye } from "../model/eye";
import { trianglesOf, type ModelArrays } from "../model/geometry";
import { current } from "../state";
import { useLook } from "../state/look";
import { usePanes } from "../state/panes";
import { eyeAgain, eyeFor, type Eye } from "./cameras";
import { orbit } from "./orbiting";
import { keepClear } from "./clipping";
import { useOrbitDrag } from "./useOrbitDrag";

interface Props {
  model: ModelArrays;
  /** The parts that a view of the whole shows. */
  framed: number[];
}

/** Orbit, pan and zoom; goes where the workbench asks: a straight view, or close to the pick. */
export function CameraRig({ model, framed }: Props) {
  const { gl, set, size, invalidate, camera } = useThree();
  const going = useLook((s) => s.going);
  const turning = useLook((s) => s.turning);
  const controls = useRef<OrbitControls | null>(null);
  const aspect = size.width / Math.max(size.height, 1);
  const latest = useRef({ aspect, camera });
  latest.current = { aspect, camera };

  useEffect(() => {
    const from = controls.current ? latest.current.camera.position.clone().sub(controls.current.target) : undefined;
    const eye = eyeWanted(model, framed, latest.current.aspect, from?.normalize());
    const made = new OrbitControls(eye.camera, gl.domElement);
    made.mouseButtons = { LEFT: null, MIDDLE: MOUSE.PAN, RIGHT: MOUSE.PAN };
    made.touches = { ONE: null, TWO: TOUCH.DOLLY_PAN };
    made.enableDamping = false;
    made.zoomToCursor = true;
    // Turning is done about what is under the pointer, which these controls do not know.
    made.enableRotate = false;
    made.target.copy(eye.target);
    made.addEventListener("change", () => invalidate());
    made.update();
    controls.current = made;
    const moved = () => {
      made.update();
      invalidate();
    };
    useEye.setState({ target: made.target, steer: steering(eye, made, going.view === "around", moved) });
    set({ camera: eye.camera as never });
    invalidate();
    return () => made.dispose();
  }, [going, model, framed, gl, set, invalidate]);
  useOrbitDrag(controls);

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

  // What the eye saw across stays in sight where the flat view takes some of the width, and comes close again after it.
  const besides = usePanes((s) => s.flat === "beside");
  const before = useRef({ aspect, besides });
  useEffect(() => {
    const was = before.current;
    if (was.besides !== besides && was.aspect === aspect) return;
    before.current = { aspect, besides };
    if (was.besides !== besides) useEye.getState().steer?.approach((aspect / was.aspect) ** 1.15);
  }, [aspect, besides]);

  useEffect(() => {
    if (controls.current) controls.current.autoRotate = turning;
    invalidate();
  }, [turning, invalidate]);
  useFrame((_, seconds) => {
    keepClear(camera, model);
    // A turntable goes round once in half a minute, whatever the frame rate.
    if (!turning || !controls.current) return;
    controls.current.autoRotateSpeed = 2;
    controls.current.update(Math.min(seconds, 0.1));
    invalidate();
  });

  return null;
}

/** Where the workbench asks the eye to stand. */
function eyeWanted(model: ModelArrays, framed: number[], aspect: number, from?: Eye["target"]): Eye {
  const { view, toPick, saved } = current().going;
  const picked = toPick ? trianglesOf(model, current().pick.mask) : new Uint32Array(0);
  const points = pointsOf(model, picked.length > 0 ? picked : trianglesOfParts(model, framed));
  if (saved) return eyeAgain(points, saved, aspect);
  return eyeFor(points, view, aspect, toPick ? from : undefined);
}

/** What keys do with the eye; a straight view stays straight. */
function steering(eye: Eye, controls: OrbitControls, turns: boolean, moved: () => void) {
  return {
    orbit(right: number, up: number) {
      if (turns) orbit(eye.camera, controls.target, controls.target, right * MathUtils.DEG2RAD, up * MathUtils.DEG2RAD);
      moved();
    },
    approach(factor: number) {
      if (eye.camera instanceof OrthographicCamera) {
        eye.camera.zoom *= factor;
        eye.camera.updateProjectionMatrix();
      } else {
        const away = eye.camera.position.clone().sub(controls.target).divideScalar(factor);
        eye.camera.position.copy(controls.target).add(away);
      }
      moved();
    },
  };
}

function trianglesOfParts(model: ModelArrays, parts: number[]): Uint32Array {
  if (parts.length === model.parts.length) return model.index;
  const wanted = new Set(parts);
  const out = model.index.filter((_, at) => wanted.has(model.facePart[model.triangleFace[Math.floor(at / 3)]!]!));
  return out.length ? out : model.index;
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
