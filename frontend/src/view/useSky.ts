import { useThree } from "@react-three/fiber";
import { useEffect } from "react";
import { PMREMGenerator } from "three";

import type { Light } from "../state/look";
import { skyImage } from "./sky";
import { useRestored } from "./useRestored";

/** Pixels along a side of the surroundings: the sky is soft, and more takes seconds without a graphics card. */
const SIDE = 64;

/** Spreads the light of an image over the roughnesses as the renderer's own does, which would take 256 pixels at least. */
class SmallGenerator extends PMREMGenerator {
  protected _setSize() {
    Object.assign(this, { _cubeSize: SIDE });
  }
}

/** Lights the scene by the sky, again each time the browser has given its graphics back, and says how often. */
export function useSky(light: Light): number {
  const { gl, scene, invalidate } = useThree();
  const restored = useRestored();
  useEffect(() => {
    const image = skyImage(light);
    const generator = new SmallGenerator(gl);
    const texture = generator.fromEquirectangular(image).texture;
    generator.dispose();
    image.dispose();
    scene.environment = texture;
    invalidate();
    return () => texture.dispose();
  }, [gl, scene, light, restored, invalidate]);
  return restored;
}
