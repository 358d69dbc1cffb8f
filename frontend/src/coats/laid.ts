/** How the sheets of a finish, of its coats and of their masks lie, as they are drawn. */

import type { Coat, Finish, ImageOver, Mask } from "../api/wire.gen";
import { placementChange, placementMatrix } from "../model/placement";
import type { Drawn } from "./shading";
import type { Laid } from "./sheets";

/** A sheet of a coat or of a mask. */
export type SheetOver = (Coat & { material: string }) | ImageOver;

/** All that a mask is made of, itself first, in the order in which it is stated. */
export function masksIn(mask: Mask | null): Mask[] {
  if (!mask) return [];
  return [mask, ...innerOf(mask).flatMap(masksIn)];
}

function innerOf(mask: Mask): Mask[] {
  if ("every" in mask) return mask.every;
  if ("any" in mask) return mask.any;
  return "not" in mask ? [mask.not] : [];
}

/** Every sheet over a finish, as `Finish.over` counts them. */
export function sheetsOver(finish: Finish): SheetOver[] {
  return finish.coats.flatMap((coat) => [
    ...(coat.material ? [coat as SheetOver] : []),
    ...masksIn(coat.where).flatMap((mask) => ("image" in mask ? [mask.image] : [])),
  ]);
}

const isNear = (mask: Mask) => "seams" in mask || "edges" in mask || "strokes" in mask;

/** The masks that go by the distance to lines, each once, as the grids of their lines are counted. */
export function nearMasks(finish: Finish): string[] {
  const found = finish.coats.flatMap((coat) => masksIn(coat.where)).filter(isNear);
  return [...new Set(found.map((mask) => JSON.stringify(mask)))];
}

/** The finish itself. */
export function finishLaid({ laid, now, materials }: Drawn): Laid {
  const { material, projection, datum, scale, tile, cells, spread } = now;
  const matrixOf = (axis: number) => {
    if (projection.kind !== "triplanar") return placementChange(laid, now);
    const own = projection.materials;
    const key = [own.x, own.y, own.z][axis] ?? material;
    // A stated grain turns each axis' material its own way.
    const turn_deg = now.grain_deg === null ? now.turn_deg : now.grain_deg - (materials[key]?.grain_deg ?? 0);
    return placementMatrix({ ...now, turn_deg });
  };
  return { material, projection, datum, matrixOf, scale, tile, cells, spread };
}

/** A sheet over the finish, by its number; null where there is none of this number now. */
export function overLaid(drawn: Drawn, row: number): Laid | null {
  const { laid, now } = drawn;
  const sheet = sheetsOver(now)[row];
  if (!sheet) return null;
  const { material, projection, tile, cells } = sheet;
  if (!projection) {
    const base = finishLaid(drawn);
    const matrixOf = (axis: number) => placementMatrix(sheet).multiply(base.matrixOf(axis));
    const scale: Laid["scale"] = [now.scale[0] * sheet.scale[0], now.scale[1] * sheet.scale[1]];
    return { ...base, material, tile, cells, matrixOf, scale, spread: null };
  }
  const was = sheetsOver(laid)[row] ?? sheet;
  const matrixOf = () => (projection.kind === "triplanar" ? placementMatrix(sheet) : placementChange(was, sheet));
  const datum = sheet.datum ?? now.over[row]?.datum ?? null;
  return { material, projection, datum, matrixOf, scale: sheet.scale, tile, cells, spread: null };
}

/** A mask that states where something lies, and what all of them come to with another in its place. */
export interface Leaf {
  mask: Mask;
  put: (mask: Mask) => Mask;
}

/** The masks of a coat that combine no others. */
export function leavesOf(where: Mask | null): Leaf[] {
  if (!where) return [];
  if ("not" in where)
    return leavesOf(where.not).map(({ mask, put }) => ({ mask, put: (next) => ({ not: put(next) }) }));
  const key = "every" in where ? "every" : "any" in where ? "any" : null;
  if (!key) return [{ mask: where, put: (next) => next }];
  const masks = innerOf(where);
  return masks.flatMap((inner, at) =>
    leavesOf(inner).map(({ mask, put }) => ({
      mask,
      put: (next) => ({ [key]: masks.map((one, k) => (k === at ? put(next) : one)) }) as unknown as Mask,
    })),
  );
}
