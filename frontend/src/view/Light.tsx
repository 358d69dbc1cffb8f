import { useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import { Color, type DirectionalLight, type Sphere } from "three";

import type { ModelArrays } from "../model/geometry";
import { useLook } from "../state/look";
import { Ground } from "./Ground";
import { daylight } from "./sky";
import { useSky } from "./useSky";

/** Sun and sky over the model, and the ground that catches its shadow. */
export function Light({ model, sphere }: { model: ModelArrays; sphere: Sphere }) {
  const { gl, invalidate } = useThree();
  const light = useLook((s) => s.light);
  const lamp = useRef<DirectionalLight>(null);
  const restored = useSky(light);
  const { sun } = useMemo(() => daylight(light), [light]);
  useEffect(() => {
    const light = lamp.current;
    if (!light) return;
    light.position.copy(sphere.center).addScaledVector(sun.direction, sphere.radius * 2);
    light.target.position.copy(sphere.center);
    light.target.updateMatrixWorld();
    const camera = light.shadow.camera;
    camera.left = camera.bottom = -sphere.radius;
    camera.right = camera.top = sphere.radius;
    camera.near = sphere.radius * 0.5;
    // Far enough for the ground behind a low sun.
    camera.far = sphere.radius * 6;
    camera.updateProjectionMatrix();
    light.shadow.normalBias = sphere.radius / 500;
    light.shadow.bias = -0.0006;
    light.shadow.radius = 2.5;
    // The model stands still, so its shadow is drawn once.
    gl.shadowMap.autoUpdate = false;
    gl.shadowMap.needsUpdate = true;
    invalidate();
  }, [sphere, sun, gl, restored, invalidate]);

  return (
    <>
      <directionalLight
        ref={lamp}
        intensity={sun.strength}
        color={new Color(...sun.color)}
        castShadow={sun.strength > 0}
        shadow-mapSize={[2048, 2048]}
      />
      <Ground model={model} radius={sphere.radius} centre={sphere.center} />
    </>
  );
}
