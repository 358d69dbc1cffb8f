/** A sheet that follows the surface: where it lies, told by the corners of the faces that it was laid on. */

import { Vector3 } from "three";

import type { Finish, Pair, Triple } from "../api/wire.gen";
import { modelAt, pixelOf, type Eye, type LaidCorners } from "../model/eye";
import type { ModelArrays } from "../model/geometry";
import { rawOf } from "../model/placement";
import type { Ground } from "./motions";

/** A triangle of the surface: its corners in the view's coordinates, and where they lie on the raw sheet. */
export interface LaidTriangle {
  face: number;
  places: [Vector3, Vector3, Vector3];
  raw: [Pair, Pair, Pair];
}

/** The triangles that a finish is laid on. */
export function laidTriangles(model: ModelArrays, { finish, faces, sheet }: LaidCorners): LaidTriangle[] {
  const own = new Uint8Array(model.faceStart.length);
  for (const face of faces) own[face] = 1;
  const place = (corner: number) => new Vector3().fromArray(model.position.array, corner * 3);
  const raw = (corner: number) => rawOf(finish, [sheet[corner * 2]!, sheet[corner * 2 + 1]!]);
  const out: LaidTriangle[] = [];
  for (let t = 0; t < model.triangleFace.length; t++) {
    if (!own[model.triangleFace[t]!]) continue;
    const [a, b, c] = [model.index[t * 3]!, model.index[t * 3 + 1]!, model.index[t * 3 + 2]!];
    out.push({ face: model.triangleFace[t]!, places: [place(a), place(b), place(c)], raw: [raw(a), raw(b), raw(c)] });
  }
  return out;
}

/** The surface as the drags of a sheet need it. */
export function surfaceGround(eye: Eye, triangles: LaidTriangle[], [x, y, z]: Triple): Ground {
  const rawAt = (pixel: Pair): Pair | null => {
    const hit = modelAt(eye, pixel);
    return hit && rawIn(triangles, hit.face, hit.point);
  };
  return {
    rawAt,
    rawOf: (_, pixel) => rawAt(pixel),
    placeOn: (raw) => placeOf(triangles, raw)?.add(new Vector3(x, y, z)) ?? null,
    round: 0,
  };
}

function rawIn(triangles: LaidTriangle[], face: number, point: Vector3): Pair | null {
  let [best, found]: [number, Pair | null] = [-Infinity, null];
  for (const { face: own, places, raw } of triangles) {
    if (own !== face) continue;
    const [u, v] = sharesIn(places, point);
    const least = Math.min(u, v, 1 - u - v);
    if (least > best) [best, found] = [least, mixed(raw, u, v)];
  }
  return found;
}

/** The shares of the second and third corner of a triangle at a place on its plane. */
function sharesIn([a, b, c]: LaidTriangle["places"], point: Vector3): Pair {
  const [p, q, d] = [b.clone().sub(a), c.clone().sub(a), point.clone().sub(a)];
  const [pp, pq, qq, dp, dq] = [p.dot(p), p.dot(q), q.dot(q), d.dot(p), d.dot(q)];
  const size = pp * qq - pq * pq;
  return [(qq * dp - pq * dq) / size, (pp * dq - pq * dp) / size];
}

const mixed = ([a, b, c]: LaidTriangle["raw"], u: number, v: number): Pair => [
  a[0] + u * (b[0] - a[0]) + v * (c[0] - a[0]),
  a[1] + u * (b[1] - a[1]) + v * (c[1] - a[1]),
];

/** The place in the view where raw (s, t) lies, or null where that is off the surface. */
export function placeOf(triangles: LaidTriangle[], [s, t]: Pair): Vector3 | null {
  for (const { places, raw } of triangles) {
    const [a, b, c] = raw;
    const [bs, bt, cs, ct] = [b[0] - a[0], b[1] - a[1], c[0] - a[0], c[1] - a[1]];
    const size = bs * ct - bt * cs;
    if (Math.abs(size) < 1e-12) continue;
    const u = ((s - a[0]) * ct - (t - a[1]) * cs) / size;
    const v = ((t - a[1]) * bs - (s - a[0]) * bt) / size;
    if (Math.min(u, v, 1 - u - v) < -1e-6) continue;
    return places[0].clone().lerp(places[1], u).addScaledVector(places[2].clone().sub(places[0]), v);
  }
  return null;
}

/** Where a straight line of the raw sheet runs over the surface, piece by piece, on the sides that face the eye. */
export function linesOver(triangles: LaidTriangle[], from: Pair, to: Pair, seen: (t: LaidTriangle) => boolean) {
  const out: [Vector3, Vector3][] = [];
  const [ds, dt] = [to[0] - from[0], to[1] - from[1]];
  for (const triangle of triangles) {
    const { places, raw } = triangle;
    let [low, high] = [0, 1];
    const [a, b, c] = raw;
    const turn = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
    if (Math.abs(turn) < 1e-12) continue;
    for (let k = 0; k < 3 && low < high; k++) {
      const [p, q] = [raw[k]!, raw[(k + 1) % 3]!];
      // How far within the edge the line is, where it begins and for each share of its way.
      const inside = ((q[0] - p[0]) * (from[1] - p[1]) - (q[1] - p[1]) * (from[0] - p[0])) * Math.sign(turn);
      const gain = ((q[0] - p[0]) * dt - (q[1] - p[1]) * ds) * Math.sign(turn);
      if (Math.abs(gain) < 1e-12) {
        if (inside < 0) high = -1;
      } else if (gain > 0) low = Math.max(low, -inside / gain);
      else high = Math.min(high, -inside / gain);
    }
    if (low >= high || !seen(triangle)) continue;
    const at = (share: number) => placeOf([{ face: 0, places, raw }], [from[0] + share * ds, from[1] + share * dt]);
    const ends = [at(low), at(high)];
    if (ends[0] && ends[1]) out.push([ends[0], ends[1]]);
  }
  return out;
}

/** Whether a triangle shows the side that it was laid on to the eye. */
export function facing(eye: Eye): (triangle: LaidTriangle) => boolean {
  return ({ places }) => {
    const at = places.map((place) => pixelOf(eye, place));
    if (at.some((p) => !p.before)) return false;
    const [a, b, c] = at.map((p) => p.at) as [Pair, Pair, Pair];
    return (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]) < 0;
  };
}

/** The same placement with its offset moved by whole repeats, so that the repeat drawn lies nearest to the view's middle. */
export function broughtInView(eye: Eye, triangles: LaidTriangle[], finish: Finish, repeat: Pair): Finish {
  const middle = new Vector3(eye.width / 2, eye.height / 2, 0);
  let [best, least]: [LaidTriangle | null, number] = [null, Infinity];
  const seen = facing(eye);
  for (const triangle of triangles) {
    const at = pixelOf(eye, triangle.places[0]).at;
    const away = middle.distanceToSquared(new Vector3(at[0], at[1], 0));
    if (away < least && seen(triangle)) [best, least] = [triangle, away];
  }
  if (!best) return finish;
  const raw = best.raw[0];
  const origin = rawOf(finish, [0, 0]);
  const [along, up] = [rawOf(finish, [repeat[0], 0]), rawOf(finish, [0, repeat[1]])];
  const [ax, ay, ux, uy] = [along[0] - origin[0], along[1] - origin[1], up[0] - origin[0], up[1] - origin[1]];
  const size = ax * uy - ay * ux;
  const [s, t] = [raw[0] - origin[0], raw[1] - origin[1]];
  const i = Math.floor((s * uy - t * ux) / size);
  const j = Math.floor((t * ax - s * ay) / size);
  const offset_mm: Pair = [finish.offset_mm[0] + i * ax + j * ux, finish.offset_mm[1] + i * ay + j * uy];
  return { ...finish, offset_mm };
}
