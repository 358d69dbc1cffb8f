/** A corner of a flow, dragged along the border from vertex to vertex. */

import { Vector3 } from "three";

import type { Frame, Pair, Projection, Triple } from "../api/wire.gen";
import { pixelOf, type Eye } from "../model/eye";
import type { Motion } from "./motions";
import { handy } from "./snapping";

type Flow = Extract<Projection, { kind: "flow" }>;

const BORDERS = ["first", "end", "far", "beginning"];

/** The vertices of the border round a strip, in order, each once. */
function borderOf(frame: Frame): Triple[] {
  return frame.lines.filter((line) => BORDERS.includes(line.name)).flatMap((line) => line.points.slice(0, -1));
}

/** Moves the place where a ring or a tube begins to whichever vertex of its borders is nearest to the hand. */
export function moveStart(eye: Eye, flow: Flow, frame: Frame, viewOrigin: Triple): Motion {
  const borders = frame.lines.filter((line) => BORDERS.includes(line.name)).flatMap((line) => line.points);
  const nearest = nearestOf(eye, borders, viewOrigin);
  const put = (start: Triple): Flow => ({ ...flow, start, shift: flow.shift % 2 });
  return {
    label: "Where the sheet begins",
    unit: "mm",
    move: (pixel: Pair) => {
      const place = nearest(pixel);
      return place && { change: { projection: put(place) }, values: place, at: "the border" };
    },
    typed: ([a = 0, b = 0, c = 0]) => ({ change: { projection: put([a, b, c]) }, values: [a, b, c] }),
  };
}

/** Which of some places is nearest to a pixel, of those before the eye. */
function nearestOf(eye: Eye, places: Triple[], [x, y, z]: Triple): (pixel: Pair) => Triple | null {
  const pixels = places.map(([a, b, c]) => pixelOf(eye, new Vector3(a - x, b - y, c - z)));
  return (pixel) => {
    let [nearest, least] = [-1, Infinity];
    pixels.forEach(({ at, before }, row) => {
      const away = Math.hypot(at[0] - pixel[0], at[1] - pixel[1]);
      if (before && away < least) [nearest, least] = [row, away];
    });
    return places[nearest] ?? null;
  };
}

/** Moves corner k to whichever vertex of the border is nearest to the hand; others stay where they are. */
export function moveCorner(eye: Eye, flow: Flow, frame: Frame, k: number, viewOrigin: Triple): Motion {
  const nearest = nearestOf(eye, borderOf(frame), viewOrigin);
  const begun = frame.corners as [Triple, Triple, Triple, Triple];
  const put = (place: Triple): Flow => {
    const corners: typeof begun = [...begun];
    corners[k] = place;
    return { ...flow, corners, shift: 0 };
  };
  return {
    label: k === 0 ? "Where the sheet begins" : `Corner ${k + 1}`,
    unit: "mm",
    move: (pixel: Pair) => {
      const place = nearest(pixel);
      if (!place || begun.some((other, at) => at !== k && other.join() === place.join())) return null;
      return { change: { projection: put(place) }, values: place, at: "the border" };
    },
    typed: ([a = 0, b = 0, c = 0]) => ({ change: { projection: put([a, b, c]) }, values: [a, b, c] }),
  };
}

/** Which border carries the grip for how much of the sheet lies along (0) and across (1). */
export function limitsOf(frame: Frame): { way: 0 | 1; from: Triple; to: Triple }[] {
  const middle = (name: string) => {
    const points = frame.lines.find((line) => line.name === name)?.points;
    return points && points[points.length >> 1]!;
  };
  const between = (way: 0 | 1, a?: Triple, b?: Triple) => (a && b ? [{ way, from: a, to: b }] : []);
  if (frame.form === "strip")
    return [...between(0, middle("beginning"), middle("end")), ...between(1, middle("first"), middle("far"))];
  const cut = frame.lines.find((line) => line.name === "cut")?.points;
  return cut ? between(frame.form === "ring" ? 1 : 0, cut[0], cut.at(-1)) : [];
}

/** Draws more of the sheet in between two borders, or less, as the hand moves away from the first one. */
export function limitFlow(
  eye: Eye,
  flow: Flow,
  frame: Frame,
  { way, from, to }: { way: 0 | 1; from: Triple; to: Triple },
  [x, y, z]: Triple,
): Motion {
  const [a, b] = [from, to].map(([p, q, r]) => pixelOf(eye, new Vector3(p - x, q - y, r - z)).at) as [Pair, Pair];
  const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
  const size = frame.size_mm![way];
  const put = (mm: number) => {
    const limits_mm: Flow["limits_mm"] = [...flow.limits_mm];
    limits_mm[way] = Math.max(mm, 1);
    return { change: { projection: { ...flow, limits_mm } }, values: [limits_mm[way]] };
  };
  return {
    label: way === 0 ? "Sheet along" : "Sheet across",
    unit: "mm",
    move: (pixel: Pair) => {
      const share = ((pixel[0] - a[0]) * dx + (pixel[1] - a[1]) * dy) / Math.max(dx * dx + dy * dy, 1e-9);
      const mm = Math.max(share, 0.05) * size;
      return put(handy(mm, size / Math.max(Math.hypot(dx, dy), 1)));
    },
    typed: ([mm = size]) => put(mm),
  };
}
