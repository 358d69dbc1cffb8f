/** What every kind of projection is on the screen. */

import type { ComponentType } from "react";

import type {
  DatumDrawing,
  Finish,
  LibraryMaterial,
  Material,
  Options,
  Projection,
  SavedView,
  Triple,
} from "../api/wire.gen";

export type Kind = Projection["kind"];
export type Of<K extends Kind> = Extract<Projection, { kind: K }>;
export type OptionsOf<K extends Kind> = Omit<Extract<Options, { kind: K }>, "kind">;

export interface LinesProps<K extends Kind> {
  finish: Finish;
  projection: Of<K>;
  /** As it was measured: radius and size where they are left open. */
  measured?: DatumDrawing;
  /** The scales along that whole repeats asked for. */
  closings: number[];
  materials: (Material | LibraryMaterial)[];
  /** Where the view's coordinates begin, in model coordinates. */
  viewOrigin: Triple;
  /** Those that were kept. */
  views: SavedView[];
  /** Sends options as they are typed; fails with the sentence that says what is wrong with them. */
  set: (options: OptionsOf<K>) => Promise<unknown>;
  /** Makes the cuts that were found the picked ones. */
  keepCuts: () => Promise<unknown>;
}

/** What a datum can be fitted to, beside the pick. */
export type FitOffer = "face" | "view" | "edge" | "box" | "axes" | "upright axes";

export interface ProjectionPanel<K extends Kind> {
  text: string;
  hint: string;
  /** With its defaults, which are the same every time. */
  start: Of<K>;
  /** As it begins where it looks from the view. */
  fromView?: (start: Of<K>, viewOrigin: Triple) => Of<K>;
  /** What distinguishes this one, where its kind has more than one name. */
  name?: (projection: Of<K>) => string;
  /** Whether grain rules, adjustments and setting out can lay it differently on different faces. */
  byFace: boolean;
  /** Whether it is fitted to a true round shape, and has a seam. */
  round: boolean;
  /** Whether it measures from a datum. */
  hasDatum: boolean;
  fits: FitOffer[];
  Lines: ComponentType<LinesProps<K>>;
}
