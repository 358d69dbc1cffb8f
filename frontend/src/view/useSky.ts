import { useThree } from "@react-three/fiber";
import { useEffect } from "react";

import { makeEnvironment } from "./environment";
import { useRestored } from "./useRestored";

/** Lights the scene by the sky, again each time the browser has given its graphics back, and says how often. */
export function useSky(): number {
  const { gl, scene, invalidate } = useThree();
  const restored = useRestored();
  useEffect(() => {
    const texture = makeEnvironment(gl);
    scene.environment = texture;
    scene.environmentIntensity = 0.62;
    invalidate();
    return () => texture.dispose();
  }, [gl, scene, restored, invalidate]);
  return restored;
}
