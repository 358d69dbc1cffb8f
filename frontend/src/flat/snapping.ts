/** To what a piece is drawn that is moved: corners and sides of other pieces, and joints of the sheet. */

import type { Finish, FlatPiece, Pair, Project } from "../api/wire.gen";
import type { Flat } from "./pieces";

/** Where joints of the sheet lie: one every so many mm from a place on, along and up. */
export interface Joints {
  every: Pair;
  from: Pair;
}

/** Where units of the material meet, or where it repeats if it has none. */
export function jointsOf(project: Project, finish: Finish): Joints {
  const joints = project.materials[finish.material]?.joints;
  const [x, y] = finish.scale.map(Math.abs) as Pair;
  const of = (axis: 0 | 1, by: number): Pair => {
    const unit = joints?.unit_mm[axis];
    return unit ? [unit * by, (joints.at_mm?.[axis] ?? 0) * by] : [finish.repeat_mm[axis], 0];
  };
  const [along, up] = [of(0, x), of(1, y)];
  return { every: [along[0], up[0]], from: [along[1], up[1]] };
}

/** By how much to move on, so that one of some places falls on one of some marks nearby; 0 where none is near. */
export function drawnTo(places: number[], marks: Iterable<number>, within: number): number {
  let best = 0;
  let least = within;
  for (const mark of marks)
    for (const place of places) {
      const off = mark - place;
      if (Math.abs(off) < least) [best, least] = [off, Math.abs(off)];
    }
  return best;
}

/** The marks of one axis: the joints near to a place, and where other pieces begin and end. */
export function marksNear(axis: 0 | 1, places: number[], { every, from }: Joints, others: FlatPiece[]): number[] {
  const joints = places.map((place) => Math.round((place - from[axis]) / every[axis]) * every[axis] + from[axis]);
  return [...joints, ...others.flatMap(({ box_mm }) => [box_mm[axis], box_mm[axis + 2]!])];
}

/** The shift of a box drawn to what is near. */
export function snapped(
  shift: Pair,
  box: readonly [number, number, number, number],
  joints: Joints,
  others: FlatPiece[],
  within: number,
): Pair {
  const out: Pair = [...shift];
  for (const axis of [0, 1] as const) {
    const places = [box[axis] + shift[axis], box[axis + 2]! + shift[axis]];
    out[axis] += drawnTo(places, marksNear(axis, places, joints, others), within);
  }
  return out;
}

/** A corner of an outline: where it lies, and of which piece. */
export interface Corner {
  at: Pair;
  piece: number;
}

/** An outline that turns by more has a corner there: a round one has none. */
const TURN_DEG = 20;
const MOST_CORNERS = 4000;

const found = new WeakMap<Flat, Corner[]>();

/** The corners of all outlines; none where there are too many to be drawn to. */
export function cornersOf(flat: Flat): Corner[] {
  let corners = found.get(flat);
  if (!corners) found.set(flat, (corners = cornersAmong(flat.rims, flat.rimPiece)));
  return corners;
}

/** rims: the two ends of each edge of an outline, (s, t) each; pieceOf: of each edge. */
export function cornersAmong(rims: Float32Array, pieceOf: ArrayLike<number>): Corner[] {
  const key = (piece: number, s: number, t: number) => `${piece} ${Math.round(s * 100)} ${Math.round(t * 100)}`;
  const coming = new Map<string, number>();
  for (let row = 0; row < pieceOf.length; row++)
    coming.set(key(pieceOf[row]!, rims[4 * row + 2]!, rims[4 * row + 3]!), row);
  const way = (row: number) => Math.atan2(rims[4 * row + 3]! - rims[4 * row + 1]!, rims[4 * row + 2]! - rims[4 * row]!);
  const out: Corner[] = [];
  for (let row = 0; row < pieceOf.length && out.length <= MOST_CORNERS; row++) {
    const [piece, s, t] = [pieceOf[row]!, rims[4 * row]!, rims[4 * row + 1]!];
    const before = coming.get(key(piece, s, t));
    if (before === undefined) continue;
    const turn = Math.abs(((way(row) - way(before) + 3 * Math.PI) % (2 * Math.PI)) - Math.PI);
    if ((turn * 180) / Math.PI > TURN_DEG) out.push({ at: [s, t], piece });
  }
  return out.length > MOST_CORNERS ? [] : out;
}

/** The shift that lays a corner of what goes along on a corner of what stays; null where none is near. */
export function ontoCorner(corners: Corner[], goes: ReadonlySet<number>, shift: Pair, within: number): Pair | null {
  const staying = new Map<string, Corner[]>();
  const cell = (s: number, t: number) => `${Math.floor(s / within)} ${Math.floor(t / within)}`;
  for (const corner of corners) {
    if (goes.has(corner.piece)) continue;
    const at = cell(...corner.at);
    staying.set(at, [...(staying.get(at) ?? []), corner]);
  }
  let best: Pair | null = null;
  let least = within;
  for (const { at, piece } of corners) {
    if (!goes.has(piece)) continue;
    const [s, t] = [at[0] + shift[0], at[1] + shift[1]];
    for (const ds of [-within, 0, within])
      for (const dt of [-within, 0, within])
        for (const other of staying.get(cell(s + ds, t + dt)) ?? []) {
          const away = Math.hypot(other.at[0] - s, other.at[1] - t);
          if (away < least) {
            least = away;
            best = [shift[0] + other.at[0] - s, shift[1] + other.at[1] - t];
          }
        }
  }
  return best;
}
