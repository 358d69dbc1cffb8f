import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";

import { usePanes } from "../state/panes";
import { REST, drawsFinely } from "./graphicsCard";
import { FineDrawing } from "./picture";

/** Draws the view: at once while it moves, and finely as soon as it rests, where that takes no noticeable time. */
export function Drawing({ radius }: { radius: number }) {
  const { gl, scene, camera, invalidate, size } = useThree();
  const quality = usePanes((s) => s.quality);
  const fine = useRef<FineDrawing | null>(null);
  const resting = useRef(false);
  const waiting = useRef(0);

  useEffect(() => {
    if (!drawsFinely(quality)) return;
    fine.current = new FineDrawing(gl, scene, camera, radius);
    invalidate();
    return () => {
      fine.current?.dispose();
      fine.current = null;
      invalidate();
    };
  }, [gl, scene, camera, radius, quality, invalidate]);
  useEffect(() => () => window.clearTimeout(waiting.current), []);

  // A priority of its own tells the renderer that drawing is done here.
  useFrame(() => {
    window.clearTimeout(waiting.current);
    const ratio = gl.getPixelRatio();
    if (fine.current && resting.current) fine.current.draw(camera, size.width * ratio, size.height * ratio);
    else gl.render(scene, camera);
    if (fine.current && !resting.current) {
      waiting.current = window.setTimeout(() => {
        resting.current = true;
        invalidate();
      }, REST);
    }
    resting.current = false;
  }, 1);
  return null;
}
