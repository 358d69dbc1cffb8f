/** From where the sheet is looked at. */

import { create } from "zustand";

import type { Pair } from "../api/wire.gen";

export interface FlatEye {
  /** The place of the sheet in the middle of the view, in mm, and how many mm a pixel is. */
  middle: Pair;
  mmPerPixel: number;
  width: number;
  height: number;
  /** The finish that it was brought to; another one is brought into view as a whole. */
  framed: string | null;
}

export const useFlatEye = create<FlatEye>(() => ({
  middle: [0, 0],
  mmPerPixel: 1,
  width: 1,
  height: 1,
  framed: null,
}));

/** mm on the sheet of a pixel, and back. */
export const placeAt = (eye: FlatEye, [x, y]: Pair): Pair => [
  eye.middle[0] + (x - eye.width / 2) * eye.mmPerPixel,
  eye.middle[1] - (y - eye.height / 2) * eye.mmPerPixel,
];

export const pixelAt = (eye: FlatEye, [s, t]: Pair): Pair => [
  eye.width / 2 + (s - eye.middle[0]) / eye.mmPerPixel,
  eye.height / 2 - (t - eye.middle[1]) / eye.mmPerPixel,
];

/** Comes closer to a pixel by a factor. */
export function approach(factor: number, pixel: Pair) {
  const eye = useFlatEye.getState();
  const [s, t] = placeAt(eye, pixel);
  const next = { ...eye, mmPerPixel: Math.min(Math.max(eye.mmPerPixel / factor, 1e-4), 1e5) };
  const [u, v] = placeAt(next, pixel);
  useFlatEye.setState({ mmPerPixel: next.mmPerPixel, middle: [next.middle[0] + s - u, next.middle[1] + t - v] });
}

export function pan([dx, dy]: Pair) {
  useFlatEye.setState(({ middle, mmPerPixel }) => ({
    middle: [middle[0] - dx * mmPerPixel, middle[1] + dy * mmPerPixel],
  }));
}

const MARGIN = 1.12;

/** Brings a box of the sheet into view. */
export function frame([s0, t0, s1, t1]: [number, number, number, number], framed: string) {
  const { width, height } = useFlatEye.getState();
  const wide = Math.max((s1 - s0) / Math.max(width, 1), (t1 - t0) / Math.max(height - 40, 1), 1e-4);
  useFlatEye.setState({ middle: [(s0 + s1) / 2, (t0 + t1) / 2], mmPerPixel: wide * MARGIN, framed });
}
