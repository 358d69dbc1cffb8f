/** Layings that follow strokes. */

import type { Projection } from "../api/wire.gen";

export type Lined = Extract<Projection, { lines: { points: unknown }[] }>;

/** The projection where it follows strokes, else null. */
export const linedOf = (projection: Projection): Lined | null =>
  projection.kind === "lines" ||
  projection.kind === "flatten" ||
  (projection.kind === "flow" && projection.hold === "size")
    ? projection
    : null;
