/** Where the written sizes of the datum go: beside what they measure, and never over each other or out of the view. */

import type { Pair } from "../api/wire.gen";

export interface Label {
  text: string;
  at: Pair;
}

interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

const LINE = 17;
/** Of a figure in the condensed face. */
const LETTER = 7.4;
/** Grips are given this much room to all sides. */
const GRIP = 9;

/** Where a label is tried, one after the other, in lines up and down and in widths aside. */
const TRIES: Pair[] = [
  [0, 0],
  [0, -1],
  [0, 1],
  [0.75, 0],
  [-0.75, 0],
  [0.75, -1],
  [-0.75, -1],
  [0.75, 1],
  [-0.75, 1],
  [0, -2],
  [0, 2],
];

function boxOf(text: string, [x, y]: Pair): Box {
  const half = (text.length * LETTER) / 2 + 3;
  return { left: x - half, right: x + half, top: y - LINE / 2, bottom: y + LINE / 2 };
}

const meet = (a: Box, b: Box) => a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom;

/** The labels that find a place, each moved as little as it takes; those that find none are left out. */
export function arranged(labels: Label[], grips: Pair[], width: number, height: number): Label[] {
  const taken: Box[] = grips.map(([x, y]) => ({ left: x - GRIP, right: x + GRIP, top: y - GRIP, bottom: y + GRIP }));
  return labels.flatMap(({ text, at }) => {
    const wide = text.length * LETTER + 6;
    for (const [aside, down] of TRIES) {
      const place: Pair = [at[0] + aside * wide, at[1] + down * LINE];
      const box = boxOf(text, place);
      const within = box.left >= 0 && box.top >= 0 && box.right <= width && box.bottom <= height;
      if (!within || taken.some((other) => meet(other, box))) continue;
      taken.push(box);
      return [{ text, at: place }];
    }
    return [];
  });
}
