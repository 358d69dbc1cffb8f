/** What the server says; every number here was computed there. Lengths in mm, areas in m². */

export type Pick =
  | { all: true }
  | { parts: string[] }
  | { faces: number[] | string }
  | { patches: number[] }
  | { facing: [number, number, number]; within_deg: number }
  | { elements: string[] }
  | { storeys: string[] }
  | { sources: string[] }
  | { any: Pick[] }
  | { every: Pick[] }
  | { not: Pick };

export type AxisMaterials = Record<"x" | "y" | "z", string | null>;

export type Projection =
  | { kind: "planar"; backs: "through" | "unmirrored" }
  | { kind: "box"; corners: "separate" | "wrapped"; size_mm: Triple | null }
  | { kind: "cylindrical"; radius_mm: number | null; caps: boolean; cap_angle_deg: number; whole_repeats: boolean }
  | { kind: "spherical"; radius_mm: number | null }
  | { kind: "triplanar"; blend: number; backs: "unmirrored" | "mirrored"; materials: AxisMaterials };

export type Triple = [number, number, number];
export type Pair = [number, number];
export type Channel = "base_color" | "normal" | "roughness" | "metallic" | "height" | "occlusion";

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
  joints?: Joints | null;
  half_turns?: boolean;
  mirrors?: boolean;
  /** Where the green of the normal map points. */
  normal_y?: "+" | "-";
  tags?: string[];
  /** Whether its size was read off a model's coordinates and nobody has confirmed it. */
  estimated?: boolean;
}

/** An image that the model brought for a channel of a material; offset, scale and turn as in KHR_texture_transform. */
export interface SourceTexture {
  image: string;
  uv_set: number;
  wrap: ["repeat" | "clamp" | "mirror", "repeat" | "clamp" | "mirror"];
  offset: Pair;
  scale: Pair;
  turn: number;
  factor: number;
}

/** A material that the model brought; colors are linear. */
export interface SourceMaterial {
  name: string;
  rgba: [number, number, number, number];
  metallic: number | null;
  roughness: number | null;
  emissive: Triple;
  alpha: "opaque" | "mask" | "blend";
  cutoff: number;
  textures: Partial<Record<string, SourceTexture>>;
}

/** What a source material covers, and how large its image is there. */
export interface SourceUse {
  faces: number;
  area_m2: number;
  bare_m2: number;
  repeat_mm: Pair | null;
  true_share: number | null;
}

/** Where a material's units meet. */
export interface Joints {
  unit_mm: [number | null, number | null];
  width_mm: number;
  at_mm: Pair;
  bond: number;
}

export interface LibraryMaterial extends Material {
  use: string;
  /** Whether the artist brought it; those that come with Pivrel stay as they are. */
  own?: boolean;
  used_in: { id: number; name: string }[];
  /** What was noticed as it came in. */
  said?: string[];
}

/** What is read off an image. */
export interface Reading {
  grain_deg: number | null;
  confidence: number;
  wrap_along: number;
  wrap_up: number;
  shows_from: number;
  pixels: Pair;
  bits: number;
}

export type Along = "sheet" | "direction" | "edge" | "length" | "level" | "plumb";

export interface GrainRule {
  along: Along;
  direction?: Triple | null;
}

export type By = "part" | "board" | "patch" | "face";

export interface Variation {
  by: By;
  seed: number;
  half_turns: boolean;
  mirrors: boolean;
}

export interface Adjustment {
  words: string;
  turn_deg: number;
  offset_mm: Pair;
  mirrored: boolean;
}

/** A tape laid over the model. */
export interface TapeRead {
  length_mm: number;
  straight_mm: number;
  over_surface: boolean;
  points_mm: Triple[];
  finish: string | null;
  name?: string;
  along_mm?: number;
  up_mm?: number;
  repeats?: Pair;
  units?: [number | null, number | null];
}

export interface OnFace {
  face: number;
  place: Triple;
}

export interface Finish {
  key: string;
  name: string;
  material: string;
  pick_words: string;
  projection: Projection;
  /** Null where each part has a datum of its own. */
  datum: Datum | null;
  datum_for: "pick" | "part" | "board";
  grain: GrainRule;
  run_on: boolean;
  variation: Variation | null;
  adjust: Adjustment[];
  /** Whether one turn and one offset serve all of its faces. */
  one_sheet: boolean;
  turn_deg: number;
  grain_deg: number | null;
  offset_mm: Pair;
  scale: Pair;
  tile: boolean;
  repeat_mm: Pair;
  /** Faces that it is laid on, those under a single sheet too. */
  faces: number;
  /** Whether its pick holds any face at all, covered by later rows or not. */
  held: boolean;
  /** What shows of it. */
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
  /** Edges at which the images differ, but the joints of both sides meet. */
  joints_m: number;
  worst_gap_mm: number;
  /** The scales along that whole repeats asked for. */
  closings: number[];
}

/** A side of a projection as a surface, in datum coordinates. */
export interface Chart {
  shape: "flat" | "cylinder" | "sphere";
  origin: Triple;
  along: Triple;
  up: Triple;
  out: Triple;
  radius_mm: number;
  along_mm: number;
}

export interface DatumDrawing {
  laying_key: string;
  parts: number;
  charts: Chart[];
  datum?: Datum;
  reach_mm?: [Triple, Triple];
  /** With everything measured that was left open. */
  projection?: Projection;
}

export interface Roundness {
  residual_mm: number;
  /** Of the pick's area, how much lies on the shape. */
  share: number;
  radius_mm: number;
  half_angle_deg: number;
  datum: Datum;
}

export interface FaceFigures {
  face: number;
  part: string;
  area_m2: number;
  finish: string | null;
  name?: string;
  least_stretch?: number;
  greatest_stretch?: number;
  kind?: "true" | "bare" | "smeared" | "mirrored";
}

export interface Trial {
  projection: Projection;
  datum: Datum;
  good: number;
  why: string;
  true_share: number;
  smeared_m2: number;
  mirrored_m2: number;
  seams_m: number;
  joints_m: number;
  area_m2: number;
  residual_mm: number | null;
  share: number;
}

export type ModelAxis = "+x" | "-x" | "+y" | "-y" | "+z" | "-z";

/** What a datum is fitted to. */
export interface Aim {
  to?: "pick" | "box" | "face" | "view" | "axis";
  face?: number;
  axis?: ModelAxis;
  towards?: Triple;
  right?: Triple;
  along_edge?: boolean;
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
  /** Whether it took the place of an older model. */
  revised: boolean;
  files?: { name: string; bytes: number }[];
  /** What the model file states, for picking by it. */
  exact: boolean;
  elements: boolean;
  storeys: boolean;
  sources: SourceMaterial[];
  uv_sets: number;
  /** How far the artist put it from where its file has it. */
  shift_mm: Triple;
}

/** A pick with a name. */
export interface PickSet {
  key: string;
  name: string;
  pick: Pick;
  words: string;
}

/** A saved view, in the model's own coordinates. */
export interface SavedView {
  key: string;
  name: string;
  position_mm: Triple;
  target_mm: Triple;
  up: Triple;
  height_mm: number | null;
  clip: Clip | null;
  picture: string | null;
}

/** Faces of one part with one fate when a newer model took the place of another. */
export interface RevisionItem {
  what: "kept" | "moved" | "new" | "gone" | "doubtful";
  part: string;
  former: string | null;
  /** The finish that covers them now, and the one before; null where they are bare. */
  finish: string | null;
  was: string | null;
  faces: number;
  area_m2: number;
  confidence: number;
  /** Whether so much of a finish is gone that the artist is asked. */
  asks: boolean;
  /** Whether it still waits for an answer. */
  open: boolean;
}

export interface Project {
  id: number;
  name: string;
  demo: string | null;
  revision: number;
  /** Counts the changes of views and kept picks, which are no edits. */
  aside: number;
  undo: string | null;
  redo: string | null;
  model: Model;
  materials: Record<string, Material>;
  finishes: Finish[];
  pick_sets: PickSet[];
  views: SavedView[];
  cover_key: string;
  bare: { faces: number; area_m2: number };
  /** What the artist should know of the edit that this answers. */
  said?: string | null;
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

export interface Finding {
  key: string;
  count: number;
  words: string;
  then: string;
  /** What can be done about it; null where nothing has to. */
  mend: string | null;
  /** Whether there are faces to show. */
  shown: boolean;
}

/** An import on its way. */
export interface ImportState {
  state: "reading" | "ready" | "failed" | "stopped";
  file: string;
  doing: string;
  share: number;
  error?: string;
}

/** An import that is ready, as the check shows it. */
export interface CheckedModel extends ImportState {
  unit: string;
  up: string;
  guessed: boolean;
  asks_unit: boolean;
  tolerance_mm: number | null;
  found: string[];
  findings: Finding[];
  /** How many patches there are of each kind of exact surface. */
  exact: Record<string, number>;
  storeys: string[];
  /** What stands beside it in the picture, with its size. */
  beside: string | null;
  /** Why unit and axis were guessed as they were. */
  why: string;
  /** By unit: the largest side, and what is about as large. */
  readings: Record<string, string>;
  materials: number;
  images: number;
  uv_sets: number;
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
  what: "bare" | "smeared" | "mirrored" | "seams" | "covered" | "untrue";
  finish: string | null;
  amount: number;
  unit: string;
  text: string;
  fix: string;
}

/** A number as typed: the server reads units and sums. */
export type Typed = string | number;

export type Edit =
  | {
      kind: "lay";
      material: string;
      pick: Pick;
      projection: Projection;
      aim?: Aim;
      datum?: Datum;
      like?: string;
    }
  | { kind: "split"; finish: string; pick: Pick; projection: Projection; aim?: Aim }
  | {
      kind: "change";
      finishes: string[];
      name?: string;
      material?: string;
      pick?: Pick;
      projection?: Projection;
      /** Of the projection that each row has; the rest of it stays. */
      options?: Record<string, unknown>;
      datum?: { origin_mm: [Typed, Typed, Typed]; x_axis: Triple; z_axis: Triple };
      datum_for?: "pick" | "part" | "board";
      grain?: GrainRule;
      grain_edge?: OnFace;
      run_on?: boolean;
      variation?: Variation | false;
      datum_turn?: ["x" | "y" | "z", Typed];
      fit?: Aim;
      seam?: { away_from: Triple } | { to_point: Triple };
      turn_deg?: Typed;
      turn_by?: Typed;
      grain_deg?: Typed;
      offset_mm?: [Typed | null, Typed | null];
      scale?: [Typed | null, Typed | null];
      repeat_mm?: [Typed | null, Typed | null];
      linked?: boolean;
      flip?: "along" | "up";
      tile?: boolean;
      like?: string;
    }
  | ({ kind: "set_out"; at: "corner" | "edge" | "middle"; what: "joint" | "centre" } & OnFace)
  | { kind: "balance"; finish: string; pick?: Pick }
  | ({ kind: "run_across" } & OnFace)
  | { kind: "turn_pick"; finish: string; pick: Pick; turn_by?: Typed; mirrored?: boolean }
  | { kind: "drop_adjustment"; finish: string; row: number }
  | { kind: "swap"; material: string; to: string }
  | { kind: "remove"; finishes: string[] }
  | { kind: "move"; finish: string; to: number }
  | { kind: "accept"; finish: string; faces: number[] }
  | { kind: "keep_pick"; name: string; pick: Pick }
  | ({ kind: "keep_view" } & Omit<SavedView, "key">)
  | { kind: "forget"; what: "pick_set" | "view"; key: string }
  | { kind: "take_back"; what: "pick_set" | "view"; key: string }
  | { kind: "take_source"; source: number }
  | { kind: "place_model"; unit: string; up: string; shift_mm: [Typed, Typed, Typed] }
  | { kind: "answer"; item: number }
  | {
      kind: "material";
      material: string;
      repeat_mm?: [Typed | null, Typed | null];
      linked?: boolean;
      grain_deg?: Typed;
      normal_y?: "+" | "-";
      marks?: Marks;
    };

/** Two marks on an image, as shares from its lower left corner, and the true distance between them. */
export interface Marks {
  a: Pair;
  b: Pair;
  distance: Typed;
  way: "free" | "along" | "up";
}

/** What of the model a click stands for. */
export type Level =
  | "face"
  | "patch"
  | "part"
  | "plane"
  | "facing"
  | "surface"
  | "ring"
  | "shape"
  | "element"
  | "storey"
  | "source";

/** A plane that cuts the model open: what lies beyond it along the axis is not drawn. */
export interface Clip {
  axis: "x" | "y" | "z";
  at_mm: number;
  flipped: boolean;
}

/** Where the view's eye stands, as the server needs it to say what is seen. */
export interface EyeSent {
  matrix: number[];
  size: Pair;
  clip: Clip | null;
  hidden: Pick | null;
}

export interface PickRequest {
  base?: Pick;
  how: "replace" | "add" | "remove" | "keep" | "all" | "none" | "invert" | "grow" | "shrink";
  clicked?: { face: number; level: Level; crease_deg: number; angle_deg: number; place?: Triple };
  region?: {
    outline: Pair[];
    eye: EyeSent;
    through: boolean;
    whole: boolean;
    level: "face" | "patch" | "part";
    crease_deg: number;
  };
  figure?: { figure: Problem["what"]; finish?: string };
  pick?: Pick;
}
