import { useMemo } from "react";
import { Box3, type Vector3 } from "three";

import { lookOf } from "../looks/registry";
import type { ModelArrays } from "../model/geometry";
import { useLook } from "../state/look";

interface Props {
  model: ModelArrays;
  radius: number;
  centre: Vector3;
}

/** How dark a full shadow is on the ground. */
const DARK = 0.34;

/** A level ground under the model that shows nothing but the shadow on it, and nothing from below. */
export function Ground({ model, radius, centre }: Props) {
  const look = useLook((s) => s.look);
  const cut = useLook((s) => s.clip !== null);
  const low = useMemo(() => new Box3().setFromArray(model.position.array).min.z, [model]);
  const { draws, paint } = lookOf(look);
  // Where faces have tones that mean something, a shadow would be read as one.
  if (cut || !paint.lit || draws === "tone" || draws === "plain") return null;
  return (
    <mesh
      position={[centre.x, centre.y, low - radius * 0.002]}
      receiveShadow
      renderOrder={-1}
      raycast={() => null}
      name="ground"
    >
      <planeGeometry args={[radius * 8, radius * 8]} />
      <shadowMaterial transparent opacity={DARK} depthWrite={false} />
    </mesh>
  );
}
