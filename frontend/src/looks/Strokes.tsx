import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";

import type { Project } from "../api/wire.gen";
import { wideLines } from "../model/wideLines";
import { JOINTS } from "./lines";
import { lookOf } from "./registry";
import { useStrokes } from "./useStrokes";
import { useLook } from "../state/look";

/** Lines over the model: open seams, or strokes along the grain. */
export function Strokes({ project }: { project: Project }) {
  const look = useLook((s) => s.look);
  const { invalidate } = useThree();
  const style = lookOf(look).strokes;
  const { data } = useStrokes(project, style?.which ?? null);
  const drawn = useMemo(() => {
    if (!style || !data) return [];
    const main = strokes(data.lines, style.color, style.width);
    const joints = strokes(data.joints ?? new Float32Array(0), JOINTS, 1.6);
    return [main, joints].filter((object) => object !== null);
  }, [data, style]);
  useEffect(() => {
    invalidate();
    return () =>
      drawn.forEach((object) => {
        object.geometry.dispose();
        object.material.dispose();
      });
  }, [drawn, invalidate]);
  return drawn.map((object) => <primitive key={object.uuid} object={object} />);
}

function strokes(lines: Float32Array, color: string, linewidth: number) {
  if (lines.length === 0) return null;
  const object = wideLines(lines, {
    color,
    linewidth,
    polygonOffset: true,
    polygonOffsetFactor: -1,
    polygonOffsetUnits: -4,
  });
  object.renderOrder = 3;
  return object;
}
