import { useFrame, useThree } from "@react-three/fiber";
import { useEffect } from "react";

import { splitAt } from "../model/split";
import { useLook } from "../state/look";

/** Keeps the drawing's line where the hand has it, however many pixels the drawing has. */
export function SplitLine() {
  const { gl, invalidate } = useThree();
  const split = useLook((s) => s.compare?.split);
  useEffect(() => invalidate(), [split, invalidate]);
  useFrame(() => {
    if (split !== undefined) splitAt.value = split * gl.domElement.width;
  });
  return null;
}
