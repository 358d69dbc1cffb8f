import { useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import { BufferGeometry, Vector3, type DirectionalLight } from "three";

import type { ModelArrays } from "../model/geometry";
import { useSky } from "./useSky";

/** An overcast sky and one lamp at the front left. */
export function Light({ model }: { model: ModelArrays }) {
  const { gl, invalidate } = useThree();
  const sun = useRef<DirectionalLight>(null);
  const restored = useSky();
  useEffect(() => {
    const light = sun.current;
    if (!light) return;
    const geometry = new BufferGeometry().setAttribute("position", model.position);
    geometry.computeBoundingSphere();
    const sphere = geometry.boundingSphere!;
    light.position
      .copy(sphere.center)
      .add(new Vector3(-0.62, -0.78, 1.05).normalize().multiplyScalar(sphere.radius * 2));
    light.target.position.copy(sphere.center);
    light.target.updateMatrixWorld();
    const camera = light.shadow.camera;
    camera.left = camera.bottom = -sphere.radius;
    camera.right = camera.top = sphere.radius;
    camera.near = sphere.radius * 0.5;
    camera.far = sphere.radius * 3.5;
    camera.updateProjectionMatrix();
    light.shadow.normalBias = sphere.radius / 700;
    // The model stands still, so its shadow is drawn once.
    gl.shadowMap.autoUpdate = false;
    gl.shadowMap.needsUpdate = true;
    invalidate();
  }, [model, gl, restored, invalidate]);

  return <directionalLight ref={sun} intensity={2.1} color="#fff6e8" castShadow shadow-mapSize={[2048, 2048]} />;
}
