import { useThree } from "@react-three/fiber";
import { useEffect } from "react";
import { DoubleSide, Raycaster, Vector2 } from "three";

import type { ModelArrays } from "./geometry";

/** A press that moved further than this many pixels was a turn of the view, not a click. */
const STILL = 4;

/** Calls back with the face under a click, or null where the click met nothing. */
export function useFaceClicks(model: ModelArrays, onFace: (face: number | null, event: PointerEvent) => void) {
  const { gl, camera } = useThree();
  useEffect(() => {
    const canvas = gl.domElement;
    const raycaster = new Raycaster();
    let pressed = new Vector2();
    const down = (event: PointerEvent) => {
      pressed = new Vector2(event.clientX, event.clientY);
    };
    const up = (event: PointerEvent) => {
      const here = new Vector2(event.clientX, event.clientY);
      if (event.button !== 0 || here.distanceTo(pressed) > STILL) return;
      const box = canvas.getBoundingClientRect();
      const x = ((event.clientX - box.left) / box.width) * 2 - 1;
      const y = 1 - ((event.clientY - box.top) / box.height) * 2;
      raycaster.setFromCamera(new Vector2(x, y), camera);
      const triangle = model.bvh.raycastFirst(raycaster.ray, DoubleSide)?.faceIndex;
      onFace(triangle == null ? null : (model.triangleFace[triangle] ?? null), event);
    };
    canvas.addEventListener("pointerdown", down);
    canvas.addEventListener("pointerup", up);
    return () => {
      canvas.removeEventListener("pointerdown", down);
      canvas.removeEventListener("pointerup", up);
    };
  }, [gl, camera, model, onFace]);
}
