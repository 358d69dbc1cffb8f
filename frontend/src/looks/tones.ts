/** Tones of the measuring looks. Blue to orange stays apart for every kind of color vision. */

import { Color } from "three";

/** From half the true size to twice: squeezed in blue, true in near white, stretched in orange. */
const STOPS: [number, string][] = [
  [-1, "#2b4f8f"],
  [-0.5, "#7f9fcb"],
  [0, "#f4f1e8"],
  [0.5, "#e0a15a"],
  [1, "#a84d0c"],
];

export const UNMEASURED = "#a9a79f";

/** What is wrong with a face, by the server's numbers. */
export const FAULTS = [
  { text: "laid", color: "#e9e5da" },
  { text: "bare", color: "#c8431f" },
  { text: "smeared", color: "#e3a51c" },
  { text: "mirrored", color: "#4a6fa8" },
] as const;

/** How large the pattern shows where it is furthest from true: 1 is true, 2 is twice its size. */
export function patternSize(low: number, high: number): number {
  const stretched = 1 / Math.max(low, 1e-6);
  return stretched >= high ? stretched : 1 / high;
}

/** The tone of a pattern's size. */
export function toneOf(size: number): string {
  const at = Math.min(Math.max(Math.log2(size), -1), 1);
  const upper = Math.max(
    STOPS.findIndex(([stop]) => stop >= at),
    1,
  );
  const [from, a] = STOPS[upper - 1]!;
  const [to, b] = STOPS[upper]!;
  return `#${new Color(a).lerp(new Color(b), (at - from) / (to - from)).getHexString()}`;
}

export const sizeTone = (low: number, high: number) => toneOf(patternSize(low, high));
