import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import { LineMaterial } from "three/examples/jsm/lines/LineMaterial.js";
import { LineSegments2 } from "three/examples/jsm/lines/LineSegments2.js";
import { LineSegmentsGeometry } from "three/examples/jsm/lines/LineSegmentsGeometry.js";

import type { Project } from "../api/types";
import { useWorkbench } from "../workbench/store";
import { useStrokes } from "./lookData";

const INK = { seams: "#c8431f", grain: "#155e57" } as const;
const WIDTH = { seams: 2.5, grain: 1.6 } as const;

/** Edges at which joints run on: not a fault, and not drawn like one. */
export const JOINTS = "#5f7a94";

/** Lines over the model: open seams, or strokes along the grain. */
export function Strokes({ project }: { project: Project }) {
  const look = useWorkbench((s) => s.look);
  const { invalidate } = useThree();
  const which = look === "seams" || look === "grain" ? look : null;
  const { data } = useStrokes(project, which);
  const drawn = useMemo(() => {
    if (!which || !data) return [];
    const main = strokes(data.lines, INK[which], WIDTH[which]);
    const joints = strokes(data.joints ?? new Float32Array(0), JOINTS, 1.6);
    return [main, joints].filter((object) => object !== null);
  }, [data, which]);
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
  const geometry = new LineSegmentsGeometry();
  geometry.setPositions(lines);
  const material = new LineMaterial({
    color,
    linewidth,
    polygonOffset: true,
    polygonOffsetFactor: -1,
    polygonOffsetUnits: -4,
  });
  const object = new LineSegments2(geometry, material);
  object.raycast = () => null;
  object.renderOrder = 3;
  return object;
}
