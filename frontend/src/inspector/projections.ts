/** The projections, in the trade's words. */

import type { Projection } from "../api/types";

export type Kind = Projection["kind"];

export const PROJECTIONS: { value: Kind; text: string; hint: string }[] = [
  { value: "planar", text: "Planar", hint: "One sheet pushed straight on: a single face, a gable, a floor" },
  { value: "box", text: "Box", hint: "Each face from the side it looks to: walls, furniture, anything square" },
  { value: "cylindrical", text: "Cylindrical", hint: "The sheet rolled round an axis: columns, vaults, bent walls" },
  { value: "spherical", text: "Spherical", hint: "Round a centre by longitude and latitude: domes and balls" },
  { value: "triplanar", text: "Triplanar", hint: "Three layings blended, so that nothing shows: stones, cushions, anything lumpy" },
];

/** A projection with its defaults, which are the same every time. */
export function projectionOf(kind: Kind): Projection {
  switch (kind) {
    case "planar":
      return { kind, backs: "through" };
    case "box":
      return { kind, corners: "separate", size_mm: null };
    case "cylindrical":
      return { kind, radius_mm: null, caps: true, cap_angle_deg: 45, whole_repeats: false };
    case "spherical":
      return { kind, radius_mm: null };
    case "triplanar":
      return { kind, blend: 0.3, backs: "unmirrored", materials: { x: null, y: null, z: null } };
  }
}

export function projectionName(projection: Projection): string {
  const name = PROJECTIONS.find((p) => p.value === projection.kind)!.text;
  return projection.kind === "box" && projection.corners === "wrapped" ? "Box, wrapped" : name;
}
