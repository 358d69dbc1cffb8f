import { Vector3 } from "three";

import type { ClickWay } from "../state/pick";
import type { ModelArrays } from "./geometry";

export interface FaceHit {
  face: number;
  /** In the view's coordinates. */
  point: Vector3;
}

/** The keys held with a press, be it of the pointer or of a key. */
export type HeldKeys = Pick<PointerEvent, "shiftKey" | "ctrlKey" | "metaKey" | "altKey">;

/** How a press changes the pick: held keys count before what is chosen. */
export const wayOf = (event: HeldKeys, chosen: ClickWay): ClickWay =>
  event.shiftKey ? "add" : event.ctrlKey || event.metaKey || event.altKey ? "remove" : chosen;

/** The corner of the face that a click came nearest to. */
export function nearestCorner(model: ModelArrays, { face, point }: FaceHit): Vector3 {
  let best = point;
  let least = Infinity;
  for (let corner = model.faceStart[face]!; corner < model.faceStart[face + 1]!; corner++) {
    const place = new Vector3().fromArray(model.position.array, corner * 3);
    const off = place.distanceToSquared(point);
    if (off < least) [best, least] = [place, off];
  }
  return best;
}
