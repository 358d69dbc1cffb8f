/** Every kind of projection on the screen, in the order in which they are offered. A new one is a module and a line. */

import type { Projection } from "../api/wire.gen";
import { box } from "./box";
import { cylindrical } from "./cylindrical";
import type { Kind, ProjectionPanel } from "./panel";
import { planar } from "./planar";
import { spherical } from "./spherical";
import { triplanar } from "./triplanar";

export type { Kind } from "./panel";

export const PROJECTIONS = { planar, box, cylindrical, spherical, triplanar } satisfies {
  [K in Kind]: ProjectionPanel<K>;
};

export const PROJECTION_CHOICES = Object.entries(PROJECTIONS).map(([kind, { text, hint }]) => ({
  value: kind as Kind,
  text,
  hint,
}));

/** A projection with its defaults. */
export const projectionOf = (kind: Kind): Projection => PROJECTIONS[kind].start;

/** The panel of whatever kind it is; its parts take projections of that kind. */
export const panelOf = (kind: Kind) => PROJECTIONS[kind] as unknown as ProjectionPanel<Kind>;

export function projectionName(projection: Projection): string {
  const panel = panelOf(projection.kind);
  return panel.name?.(projection) ?? panel.text;
}
