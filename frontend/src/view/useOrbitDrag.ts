import { useThree } from "@react-three/fiber";
import { useEffect, type RefObject } from "react";
import { Vector3 } from "three";
import type { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";

import type { Pair } from "../api/wire.gen";
import { modelAt, useEye } from "../model/eye";
import { current } from "../state";
import { orbit } from "./orbiting";

/** A drag over the height of the view turns the eye half round. */
const HALF_ROUND = Math.PI;

/** A drag with the main button, or with one finger, turns the eye about what lay under it where it began. */
export function useOrbitDrag(controls: RefObject<OrbitControls | null>) {
  const { gl, invalidate } = useThree();
  useEffect(() => {
    const canvas = gl.domElement;
    const down = new Set<number>();
    let pivot: Vector3 | null = null;
    let last: Pair = [0, 0];
    const begin = (event: PointerEvent) => {
      down.add(event.pointerId);
      // A second finger pans and zooms.
      if (event.button !== 0 || down.size > 1 || current().going.view !== "around") return void (pivot = null);
      const box = canvas.getBoundingClientRect();
      const met = modelAt(useEye.getState(), [event.clientX - box.left, event.clientY - box.top]);
      pivot = met?.point.clone() ?? useEye.getState().target.clone();
      last = [event.clientX, event.clientY];
      canvas.setPointerCapture(event.pointerId);
    };
    const move = (event: PointerEvent) => {
      const { camera, target, height } = useEye.getState();
      if (!pivot || !camera || !controls.current) return;
      const share = HALF_ROUND / Math.max(height, 1);
      orbit(camera, target, pivot, (event.clientX - last[0]) * share, (event.clientY - last[1]) * share);
      last = [event.clientX, event.clientY];
      controls.current.update();
      invalidate();
    };
    const end = (event: PointerEvent) => {
      down.delete(event.pointerId);
      pivot = null;
    };
    canvas.addEventListener("pointerdown", begin);
    canvas.addEventListener("pointermove", move);
    for (const name of ["pointerup", "pointercancel"] as const) canvas.addEventListener(name, end);
    return () => {
      canvas.removeEventListener("pointerdown", begin);
      canvas.removeEventListener("pointermove", move);
      for (const name of ["pointerup", "pointercancel"] as const) canvas.removeEventListener(name, end);
    };
  }, [gl, controls, invalidate]);
}
