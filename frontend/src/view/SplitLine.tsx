import { useThree } from "@react-three/fiber";
import { useEffect } from "react";

import { splitAt } from "../model/split";
import { useLook } from "../state/look";

/** Keeps the drawing's line where the hand has it. */
export function SplitLine() {
  const { gl, invalidate } = useThree();
  const split = useLook((s) => s.compare?.split);
  useEffect(() => {
    if (split === undefined) return;
    splitAt.value = split * gl.domElement.width;
    invalidate();
  }, [split, gl, invalidate]);
  return null;
}
