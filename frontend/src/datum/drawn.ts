/** What drawings over the model have in common: the finish, the eye, and how places come to the screen. */

import type { PointerEvent as ReactPointerEvent } from "react";

import type { Finish, Pair, Triple } from "../api/wire.gen";
import type { Eye } from "../model/eye";
import type { Motion } from "./motions";

export interface Drawn {
  stored: Finish;
  /** As it is under the hand. */
  finish: Finish;
  eye: Eye;
  viewOrigin: Triple;
  /** Where a place of the model lies on the screen, and whether it is before the eye. */
  pixel: (place: Triple) => { at: Pair; before: boolean };
  /** A line over places, as the path of an SVG; empty where some lie behind the eye. */
  path: (points: Triple[]) => string;
  begin: (finish: Finish, motion: Motion, event: ReactPointerEvent) => void;
}
