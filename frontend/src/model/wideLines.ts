/** Lines of a width in pixels, which the graphics card's own lines do not have. */

import { LineMaterial, type LineMaterialParameters } from "three/examples/jsm/lines/LineMaterial.js";
import { LineSegments2 } from "three/examples/jsm/lines/LineSegments2.js";
import { LineSegmentsGeometry } from "three/examples/jsm/lines/LineSegmentsGeometry.js";

/** Pieces from place to place, two ends (x, y, z) each; their color is not changed by the tone curve. */
export function wideLines(ends: Float32Array, look: LineMaterialParameters): LineSegments2 {
  const geometry = new LineSegmentsGeometry();
  geometry.setPositions(ends);
  const object = new LineSegments2(geometry, new LineMaterial({ toneMapped: false, ...look }));
  object.raycast = () => null;
  return object;
}
