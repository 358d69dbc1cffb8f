/** What every look is: how faces are drawn, which lines lie over them, and what its legend says. */

import type { ComponentType } from "react";

import type { Project } from "../api/wire.gen";

/** How the pattern of a finish is painted. images: its own, a checker of a stated size, those of one channel, or where a coat lies. */
export interface Paint {
  images: "own" | "checker" | "channel" | "mask";
  lit: boolean;
}

/** What is measured of a face: how the pattern is squeezed or stretched there, and what is wrong with it. */
export interface FaceTone {
  low: number;
  high: number;
  /** 0 true, 1 bare, 2 smeared, 3 mirrored. */
  kind: number;
}

export interface LookModule {
  text: string;
  hint: string;
  key: string;
  /** Offered where it is of use, and not in the line of looks. */
  aside?: boolean;
  /** "pattern": each finish by its paint. "plain": one tone for all. "tone": a tone for each face. "source": as the model came. */
  draws: "pattern" | "plain" | "tone" | "source";
  /** How patterns are painted, and what bare faces came with. */
  paint: Paint;
  /** Whether bare faces show what they came with: where materials are looked at, and not measures. */
  brings: boolean;
  /** The color of a face, where each has a tone of its own. */
  tone?: (face: FaceTone) => string;
  /** Lines that the server draws over the model for this look. */
  strokes?: { color: string; width: number; which: "seams" | "grain" };
  Legend?: ComponentType<{ project: Project }>;
}

export const PLAIN_PAINT: Paint = { images: "own", lit: true };
