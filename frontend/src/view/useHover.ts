import { useThree } from "@react-three/fiber";
import { useEffect } from "react";

import { modelAt, useEye } from "../model/eye";
import type { ModelArrays } from "../model/geometry";
import { current, put } from "../state";

/** The pointer has to rest this many ms before its face is told. */
const REST = 90;

/** Names the face that the pointer rests on. */
export function useHover(model: ModelArrays) {
  const { gl } = useThree();
  useEffect(() => {
    const canvas = gl.domElement;
    let waiting = 0;
    const tell = (hovered: number | null) => {
      if (current().hovered !== hovered) put({ hovered });
    };
    const move = (event: PointerEvent) => {
      window.clearTimeout(waiting);
      if (event.buttons) return;
      const { clientX, clientY } = event;
      waiting = window.setTimeout(() => {
        const box = canvas.getBoundingClientRect();
        tell(modelAt(useEye.getState(), [clientX - box.left, clientY - box.top])?.face ?? null);
      }, REST);
    };
    const leave = () => {
      window.clearTimeout(waiting);
      tell(null);
    };
    canvas.addEventListener("pointermove", move);
    canvas.addEventListener("pointerleave", leave);
    return () => {
      leave();
      canvas.removeEventListener("pointermove", move);
      canvas.removeEventListener("pointerleave", leave);
    };
  }, [gl, model]);
}
