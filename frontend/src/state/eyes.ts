/** Where the eye can be sent: a straight view, one from around, or one that was saved. */

import type { Triple } from "../api/wire.gen";

export type StraightView = "top" | "front" | "right" | "back" | "left" | "below";
export type EyeView = StraightView | "around";

/** An eye as it was saved, in the view's coordinates. */
export interface SavedEye {
  position: Triple;
  target: Triple;
  up: Triple;
  /** What a parallel view shows from bottom to top, in mm; null in perspective. */
  heightMm: number | null;
}
