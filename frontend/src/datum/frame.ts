/** The datum's frame in space: moving and turning it, and reading places off the sides it lays on. */

import { Matrix4, Ray, Vector3 } from "three";

import type { Chart, Datum, Pair, Triple } from "../api/wire.gen";

export const vec = (v: Triple) => new Vector3(...v);
export const triple = (v: Vector3): Triple => [v.x, v.y, v.z];

/** Orthonormal axes x, y, z of a datum, as the core makes them. */
export function axesOf(datum: Datum): [Vector3, Vector3, Vector3] {
  const z = vec(datum.z_axis).normalize();
  const x = vec(datum.x_axis);
  x.addScaledVector(z, -x.dot(z)).normalize();
  return [x, z.clone().cross(x), z];
}

/** From datum coordinates to the model's. */
export function datumMatrix(datum: Datum): Matrix4 {
  return new Matrix4().makeBasis(...axesOf(datum)).setPosition(...datum.origin_mm);
}

export function movedBy(datum: Datum, by: Vector3): Datum {
  return { ...datum, origin_mm: triple(vec(datum.origin_mm).add(by)) };
}

/** Turned about one of its own axes, counter-clockwise as seen against it. */
export function turnedBy(datum: Datum, axis: 0 | 1 | 2, degrees: number): Datum {
  const axes = axesOf(datum);
  const about = axes[axis].clone();
  const turn = (degrees * Math.PI) / 180;
  const [x, , z] = axes.map((a) => a.clone().applyAxisAngle(about, turn));
  return { ...datum, x_axis: triple(x!), z_axis: triple(z!) };
}

/** The angle in degrees, in (-180, 180], from one direction to another about an axis. */
export function angleAbout(axis: Vector3, from: Vector3, to: Vector3): number {
  const a = from.clone().addScaledVector(axis, -from.dot(axis));
  const b = to.clone().addScaledVector(axis, -to.dot(axis));
  return (Math.atan2(a.clone().cross(b).dot(axis), a.dot(b)) * 180) / Math.PI;
}

/** Where a raw (s, t) of a chart lies, in datum coordinates. */
export function placeOn(chart: Chart, [s, t]: Pair): Vector3 {
  if (chart.shape === "flat") {
    return vec(chart.origin).addScaledVector(vec(chart.along), s).addScaledVector(vec(chart.up), t);
  }
  const a = s / chart.along_mm;
  if (chart.shape === "cylinder") {
    return new Vector3(chart.radius_mm * Math.cos(a), chart.radius_mm * Math.sin(a), t);
  }
  const latitude = t / chart.radius_mm;
  const flat = chart.radius_mm * Math.cos(latitude);
  return new Vector3(flat * Math.cos(a), flat * Math.sin(a), chart.radius_mm * Math.sin(latitude));
}

/** The raw (s, t) of a place in datum coordinates, as the chart lays it. */
export function sheetAt(chart: Chart, p: Vector3): Pair {
  if (chart.shape === "flat") {
    const d = p.clone().sub(vec(chart.origin));
    return [d.dot(vec(chart.along)), d.dot(vec(chart.up))];
  }
  const s = chart.along_mm * Math.atan2(p.y, p.x);
  if (chart.shape === "cylinder") return [s, p.z];
  return [s, chart.radius_mm * Math.atan2(p.z, Math.hypot(p.x, p.y))];
}

/** Where a ray in datum coordinates meets a chart first, or null where it passes by. */
export function meets(chart: Chart, ray: Ray): Vector3 | null {
  if (chart.shape === "flat") {
    const out = vec(chart.out);
    const down = ray.direction.dot(out);
    if (Math.abs(down) < 1e-9) return null;
    const distance = vec(chart.origin).sub(ray.origin).dot(out) / down;
    return ray.at(distance, new Vector3());
  }
  const o = ray.origin.clone();
  const d = ray.direction.clone();
  if (chart.shape === "cylinder") o.z = d.z = 0;
  const a = d.lengthSq();
  const b = o.dot(d);
  const root = b * b - a * (o.lengthSq() - chart.radius_mm ** 2);
  if (root < 0 || a < 1e-12) return null;
  return ray.at((-b - Math.sqrt(root)) / a, new Vector3());
}

/** Which side of a projection is seen best: the one that looks most towards the eye (datum coordinates). */
export function chartTowards(charts: Chart[], eye: Vector3): Chart | null {
  let best: Chart | null = null;
  for (const chart of charts) {
    if (chart.shape !== "flat") return chart;
    if (!best || vec(chart.out).dot(eye) > vec(best.out).dot(eye)) best = chart;
  }
  return best;
}
