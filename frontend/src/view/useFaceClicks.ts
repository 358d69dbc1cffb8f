import { useThree } from "@react-three/fiber";
import { useEffect } from "react";
import { Vector2 } from "three";

import type { Pair } from "../api/wire.gen";
import { modelAt, useEye } from "../model/eye";
import type { ModelArrays } from "../model/geometry";
import type { FaceHit, HeldKeys } from "../model/corners";

/** A press that moved further than this many pixels was a turn of the view, not a click. */
const STILL = 4;

/** Calls back with the face under a click, or null where the click met nothing. */
export function useFaceClicks(model: ModelArrays, onFace: (hit: FaceHit | null, held: HeldKeys) => void) {
  const { gl } = useThree();
  useEffect(() => {
    const canvas = gl.domElement;
    let pressed = new Vector2();
    const down = (event: PointerEvent) => {
      pressed = new Vector2(event.clientX, event.clientY);
    };
    const click = (pixel: Pair, held: HeldKeys) => onFace(modelAt(useEye.getState(), pixel), held);
    const up = (event: PointerEvent) => {
      const here = new Vector2(event.clientX, event.clientY);
      if (event.button !== 0 || here.distanceTo(pressed) > STILL) return;
      const box = canvas.getBoundingClientRect();
      click([event.clientX - box.left, event.clientY - box.top], event);
    };
    useEye.setState({ click });
    canvas.addEventListener("pointerdown", down);
    canvas.addEventListener("pointerup", up);
    return () => {
      canvas.removeEventListener("pointerdown", down);
      canvas.removeEventListener("pointerup", up);
      useEye.setState({ click: null });
    };
  }, [gl, model, onFace]);
}
