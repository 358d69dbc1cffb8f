/** Every kind of projection on the screen, in the order in which they are offered. A new one is a module and a line. */

import type { Projection, Triple } from "../api/wire.gen";
import { box } from "./box";
import { camera } from "./camera";
import { cylindrical } from "./cylindrical";
import { drape } from "./drape";
import { flatten } from "./flatten";
import { flow } from "./flow";
import { grainLines } from "./grainLines";
import type { Kind, ProjectionPanel } from "./panel";
import { planar } from "./planar";
import { roll } from "./roll";
import { spherical } from "./spherical";
import { triplanar } from "./triplanar";

export type { Kind } from "./panel";

export const PROJECTIONS = {
  planar,
  box,
  cylindrical,
  spherical,
  triplanar,
  flow,
  roll,
  camera,
  drape,
  lines: grainLines,
  flatten,
} satisfies {
  [K in Kind]: ProjectionPanel<K>;
};

export const PROJECTION_CHOICES = Object.entries(PROJECTIONS).map(([kind, { text, hint }]) => ({
  value: kind as Kind,
  text,
  hint,
}));

/** A projection with its defaults, seen from where the view stands. */
export function projectionOf(kind: Kind, viewOrigin: Triple): Projection {
  const { start, fromView } = panelOf(kind);
  return fromView?.(start, viewOrigin) ?? start;
}

/** The panel of whatever kind it is; its parts take projections of that kind. */
export const panelOf = (kind: Kind) => PROJECTIONS[kind] as unknown as ProjectionPanel<Kind>;

export function projectionName(projection: Projection): string {
  const panel = panelOf(projection.kind);
  return panel.name?.(projection) ?? panel.text;
}
