/** The pieces as geometries, and how they follow the hand. */

import { BufferAttribute, BufferGeometry, Color } from "three";

import { motionOf, type FlatHand } from "./flatHand";
import type { Flat } from "./pieces";

/** One quad, mm on it as its texture coordinates. */
export function quad(s0: number, t0: number, s1: number, t1: number, scale: [number, number]): BufferGeometry {
  const places = [s0, t0, s1, t0, s1, t1, s0, t0, s1, t1, s0, t1];
  const geometry = new BufferGeometry();
  const position = new Float32Array(18);
  const uv = new Float32Array(12);
  for (let k = 0; k < 6; k++) {
    position.set([places[2 * k]!, places[2 * k + 1]!, 0], 3 * k);
    uv.set([places[2 * k]! / scale[0], places[2 * k + 1]! / scale[1]], 2 * k);
  }
  geometry.setAttribute("position", new BufferAttribute(position, 3));
  geometry.setAttribute("uv", new BufferAttribute(uv, 2));
  return geometry;
}

const rgb = (hex: string) => new Color(hex).toArray() as [number, number, number];
export const INK = rgb("#1f2421");
export const HAND = rgb("#0c6b60");
export const OVER = rgb("#d97b1c");

export function piecesGeometry(flat: Flat): BufferGeometry {
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(flat.position.slice(), 3));
  geometry.setAttribute("color", new BufferAttribute(new Float32Array(flat.position.length).fill(1), 3));
  return geometry;
}

export function rimsGeometry(flat: Flat): BufferGeometry {
  const count = flat.rims.length / 2;
  const position = new Float32Array(3 * count);
  for (let k = 0; k < count; k++) position.set([flat.rims[2 * k]!, flat.rims[2 * k + 1]!, 0], 3 * k);
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(position, 3));
  geometry.setAttribute("color", new BufferAttribute(new Float32Array(3 * count), 3));
  return geometry;
}

/** The same corners, of some pieces alone. */
export function geometryOf(whole: BufferGeometry, flat: Flat, wanted: (piece: number) => boolean): BufferGeometry {
  const rows: number[] = [];
  flat.triangleRow.forEach((row, t) => {
    if (wanted(flat.piece[row]!)) rows.push(3 * t, 3 * t + 1, 3 * t + 2);
  });
  const geometry = new BufferGeometry().setAttribute("position", whole.getAttribute("position"));
  geometry.setIndex(rows);
  return geometry;
}

/** Puts the pieces under the hand where it has them, and all others where they lie. */
export function moveAlong(geometry: BufferGeometry, rims: BufferGeometry, flat: Flat, hand: FlatHand) {
  const goes = new Uint8Array(flat.pieces.length);
  // What was taken up from another laying is not there any more.
  if (hand.key === flat.key) hand.pieces.forEach((piece) => (goes[piece] = 1));
  const motion = motionOf(hand);
  const move = (
    to: BufferAttribute,
    from: Float32Array,
    stride: number,
    each: number,
    pieceOf: (k: number) => number,
  ) => {
    const out = to.array;
    const [a, b, x, c, d, y] = motion;
    for (let k = 0; k < to.count; k++) {
      const [s, t] = [from[stride * k]!, from[stride * k + 1]!];
      const taken = goes[pieceOf(Math.floor(k / each))];
      out[3 * k] = taken ? a * s + b * t + x : s;
      out[3 * k + 1] = taken ? c * s + d * t + y : t;
    }
    to.needsUpdate = true;
  };
  const { piece, triangleRow, rimPiece } = flat;
  move(geometry.getAttribute("position") as BufferAttribute, flat.position, 3, 3, (t) => piece[triangleRow[t]!]!);
  move(rims.getAttribute("position") as BufferAttribute, flat.rims, 2, 2, (row) => rimPiece[row]!);
}
