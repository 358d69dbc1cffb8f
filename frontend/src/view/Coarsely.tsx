import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import { Matrix4 } from "three";

import { underway } from "../api/underway";
import { usePanes } from "../state/panes";
import { REST, withoutCard } from "./graphicsCard";

/** Of the pixels along a side, how many are drawn while the eye moves. */
const COARSE = 0.5;

/** Without a graphics card, a quarter of the pixels is drawn while the eye moves, and all of them once it rests. */
export function Coarsely() {
  const { gl, camera, invalidate } = useThree();
  const dpr = useThree((s) => s.viewport.dpr);
  const quality = usePanes((s) => s.quality);
  const seen = useRef(new Matrix4());
  const rest = useRef<(() => void) | null>(null);
  const timer = useRef(0);

  // Before whatever else is done for a frame, for some of that counts pixels.
  useFrame(() => {
    camera.updateMatrixWorld();
    const moves = withoutCard() && quality !== "fine" && !camera.matrixWorld.equals(seen.current);
    seen.current.copy(camera.matrixWorld);
    const ratio = moves ? dpr * COARSE : dpr;
    if (gl.getPixelRatio() !== ratio) gl.setPixelRatio(ratio);
    if (!moves) return;
    if (!rest.current) void underway(new Promise<void>((resolve) => (rest.current = resolve)));
    window.clearTimeout(timer.current);
    timer.current = window.setTimeout(() => {
      rest.current?.();
      rest.current = null;
      invalidate();
    }, REST);
  }, -1);
  useEffect(
    () => () => {
      window.clearTimeout(timer.current);
      rest.current?.();
    },
    [],
  );
  return null;
}
