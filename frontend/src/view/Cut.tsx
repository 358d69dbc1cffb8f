import { useThree } from "@react-three/fiber";
import { useEffect } from "react";
import { Plane, Vector3 } from "three";

import type { Project } from "../api/wire.gen";
import { useEye } from "../model/eye";
import { useLook } from "../state/look";

const AXES = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] } as const;

/** Cuts the model open: what lies beyond the clip plane is not drawn. */
export function Cut({ project }: { project: Project }) {
  const { gl, invalidate } = useThree();
  const clip = useLook((s) => s.clip);
  const origin = project.model.view_origin_mm;
  useEffect(() => {
    let cut: Plane | null = null;
    if (clip) {
      const sign = clip.flipped ? 1 : -1;
      const normal = new Vector3(...AXES[clip.axis]);
      const at = clip.at_mm - new Vector3(...origin).dot(normal);
      cut = new Plane(normal.multiplyScalar(sign), -sign * at);
    }
    gl.clippingPlanes = cut ? [cut] : [];
    gl.shadowMap.needsUpdate = true;
    useEye.setState({ cut });
    invalidate();
  }, [clip, gl, invalidate, origin]);
  useEffect(
    () => () => {
      gl.clippingPlanes = [];
      useEye.setState({ cut: null });
    },
    [gl],
  );
  return null;
}
