/** What the server says; every number here was computed there. Lengths in mm, areas in m². */

export type Pick =
  | { all: true }
  | { parts: string[] }
  | { faces: number[] }
  | { patches: number[] }
  | { facing: [number, number, number]; within_deg: number }
  | { any: Pick[] }
  | { every: Pick[] }
  | { not: Pick };

export type Projection =
  | { kind: "planar"; backs: "through" | "unmirrored" }
  | { kind: "box"; corners: "separate" };

export type Triple = [number, number, number];
export type Pair = [number, number];
export type Channel = "base_color" | "normal" | "roughness";

export interface Datum {
  origin_mm: Triple;
  x_axis: Triple;
  z_axis: Triple;
}

export interface Material {
  key: string;
  name: string;
  repeat_mm: Pair;
  grain_deg: number | null;
  metallic: number;
  images: Partial<Record<Channel, string>>;
}

export interface LibraryMaterial extends Material {
  use: string;
}

export interface Finish {
  key: string;
  name: string;
  material: string;
  pick_words: string;
  projection: Projection;
  datum: Datum;
  turn_deg: number;
  grain_deg: number | null;
  offset_mm: Pair;
  scale: Pair;
  repeat_mm: Pair;
  faces: number;
  area_m2: number;
  laying_key: string;
}

export interface Figures {
  laying_key: string;
  true_share: number;
  least_stretch: number;
  greatest_stretch: number;
  smeared_m2: number;
  mirrored_m2: number;
  seams_m: number;
  worst_gap_mm: number;
}

export interface Model {
  file: string;
  unit: string;
  up: string;
  found: string[];
  mesh: string;
  faces: number;
  triangles: number;
  parts: number;
  bounds_mm: [Triple, Triple];
  view_origin_mm: Triple;
  checker_mm: number;
  area_m2: number;
}

export interface Project {
  id: number;
  name: string;
  demo: string | null;
  revision: number;
  undo: string | null;
  redo: string | null;
  model: Model;
  materials: Record<string, Material>;
  finishes: Finish[];
  cover_key: string;
  bare: { faces: number; area_m2: number };
}

export interface ProjectCard {
  id: number;
  name: string;
  demo: string | null;
  revision: number;
  used_at: string;
  file: string;
  parts: number;
  triangles: number;
  finishes: number;
}

export interface Peek {
  file: string;
  unit: string;
  up: string;
  guessed: boolean;
  asks_unit: boolean;
  found: string[];
  parts: number;
  faces: number;
  triangles: number;
  size_mm: Triple;
}

export interface Picked {
  pick: Pick;
  words: string;
  faces: number;
  parts: number;
  area_m2: number;
  mask: string;
}

export interface Problem {
  what: "bare" | "smeared" | "mirrored" | "seams" | "covered";
  finish: string | null;
  amount: number;
  unit: string;
  text: string;
  fix: string;
}

/** A number as typed: the server reads units and sums. */
export type Typed = string | number;

export type Edit =
  | { kind: "lay"; material: string; pick: Pick; projection: Projection }
  | {
      kind: "change";
      finishes: string[];
      name?: string;
      material?: string;
      pick?: Pick;
      projection?: Projection;
      datum?: { origin_mm: [Typed, Typed, Typed]; x_axis: Triple; z_axis: Triple } | "fit";
      turn_deg?: Typed;
      turn_by?: Typed;
      grain_deg?: Typed;
      offset_mm?: [Typed | null, Typed | null];
      scale?: [Typed | null, Typed | null];
      repeat_mm?: [Typed | null, Typed | null];
      linked?: boolean;
    }
  | { kind: "remove"; finishes: string[] }
  | { kind: "move"; finish: string; to: number }
  | {
      kind: "material";
      material: string;
      repeat_mm?: [Typed | null, Typed | null];
      linked?: boolean;
      grain_deg?: Typed;
    };

export type Level = "face" | "patch" | "part";

export interface PickRequest {
  base?: Pick;
  how: "replace" | "add" | "remove" | "all" | "none" | "invert" | "grow";
  clicked?: { face: number; level: Level; crease_deg: number };
  figure?: { figure: Problem["what"]; finish?: string };
  pick?: Pick;
}
