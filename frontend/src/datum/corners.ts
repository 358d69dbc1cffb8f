/** A corner of a flow, dragged along the border from vertex to vertex. */

import { Vector3 } from "three";

import type { Frame, Pair, Projection, Triple } from "../api/wire.gen";
import { pixelOf, type Eye } from "../model/eye";
import type { Motion } from "./motions";

type Flow = Extract<Projection, { kind: "flow" }>;

const BORDERS = ["first", "end", "far", "beginning"];

/** The vertices of the border round a strip, in order, each once. */
export function borderOf(frame: Frame): Triple[] {
  return frame.lines.filter((line) => BORDERS.includes(line.name)).flatMap((line) => line.points.slice(0, -1));
}

/** Moves corner k to whichever vertex of the border is nearest to the hand; others stay where they are. */
export function moveCorner(eye: Eye, flow: Flow, frame: Frame, k: number, [x, y, z]: Triple): Motion {
  const border = borderOf(frame);
  const pixels = border.map(([a, b, c]) => pixelOf(eye, new Vector3(a - x, b - y, c - z)));
  const begun = (flow.corners ? rotated(flow.corners, flow.shift) : frame.corners) as [Triple, Triple, Triple, Triple];
  const put = (place: Triple): Flow => {
    const corners: typeof begun = [...begun];
    corners[k] = place;
    return { ...flow, corners, shift: 0 };
  };
  return {
    label: k === 0 ? "Where the sheet begins" : `Corner ${k + 1}`,
    unit: "mm",
    move: (pixel: Pair) => {
      let [nearest, least] = [-1, Infinity];
      pixels.forEach(({ at, before }, row) => {
        const away = Math.hypot(at[0] - pixel[0], at[1] - pixel[1]);
        if (before && away < least) [nearest, least] = [row, away];
      });
      const place = border[nearest];
      if (!place || begun.some((other, at) => at !== k && other.join() === place.join())) return null;
      return { change: { projection: put(place) }, values: place, at: "the border" };
    },
    typed: ([a = 0, b = 0, c = 0]) => ({ change: { projection: put([a, b, c]) }, values: [a, b, c] }),
  };
}

const rotated = <T>(list: T[], by: number): T[] => [...list.slice(by), ...list.slice(0, by)];
