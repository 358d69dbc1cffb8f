/** The edges that bound a pick. */

import { held, type ModelArrays } from "./geometry";

/** Of more triangles than this only the model's own creases are drawn: finding every border would take seconds. */
const MOST = 150_000;

/** Two ends (x, y, z) each: where a picked face has no picked neighbour, and the creases between picked ones. */
export function pickOutline(model: ModelArrays, triangles: Uint32Array, mask: Uint8Array): Float32Array {
  if (triangles.length / 3 > MOST) return creases(model, mask);
  const { array } = model.position;
  const places = new Map<string, number>();
  const idOf = (corner: number) => {
    const key = `${array[corner * 3]},${array[corner * 3 + 1]},${array[corner * 3 + 2]}`;
    const id = places.get(key) ?? places.size;
    places.set(key, id);
    return id;
  };
  const edges = new Map<string, { ends: [number, number]; times: number }>();
  for (let at = 0; at < triangles.length; at += 3) {
    const corners = [triangles[at]!, triangles[at + 1]!, triangles[at + 2]!];
    const ids = corners.map(idOf);
    for (let k = 0; k < 3; k++) {
      const [a, b] = [ids[k]!, ids[(k + 1) % 3]!];
      const key = a < b ? `${a} ${b}` : `${b} ${a}`;
      const edge = edges.get(key);
      if (edge) edge.times++;
      else edges.set(key, { ends: [corners[k]!, corners[(k + 1) % 3]!], times: 1 });
    }
  }
  const out: number[] = [];
  for (const { ends, times } of edges.values()) {
    if (times !== 1) continue;
    for (const corner of ends) out.push(array[corner * 3]!, array[corner * 3 + 1]!, array[corner * 3 + 2]!);
  }
  return new Float32Array(out);
}

function creases({ lines }: ModelArrays, mask: Uint8Array): Float32Array {
  const out: number[] = [];
  for (let k = 0; k * 2 < lines.faces.length; k++) {
    const sides = [lines.faces[k * 2]!, lines.faces[k * 2 + 1]!].map((face) => held(mask, face));
    if (sides[0] !== sides[1] || (sides[0] && lines.faces[k * 2] === lines.faces[k * 2 + 1])) {
      out.push(...lines.ends.subarray(k * 6, k * 6 + 6));
    }
  }
  return new Float32Array(out);
}
