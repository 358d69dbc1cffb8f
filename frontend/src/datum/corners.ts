/** A corner of a flow, dragged along the border from vertex to vertex. */

import { Vector3 } from "three";

import type { Frame, Pair, Projection, Triple } from "../api/wire.gen";
import { pixelOf, type Eye } from "../model/eye";
import type { Motion } from "./motions";

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
