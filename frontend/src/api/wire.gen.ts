/**
 * What goes over the wire, written by `make types` from the server's own models. Lengths in mm, areas in m².
 */

/**
 * @minItems 2
 * @maxItems 2
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Pair".
 */
export type Pair = [number, number];
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ModelAxis".
 */
export type ModelAxis = "+x" | "-x" | "+y" | "-y" | "+z" | "-z";
/**
 * @minItems 3
 * @maxItems 3
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Triple".
 */
export type Triple = [number, number, number];
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "MaskSent".
 */
export type MaskSent =
  | FadeMaskSent
  | FadeRoundMaskSent
  | FadeAboutMaskSent
  | BandMaskSent
  | FacingMaskSent
  | SeamsMaskSent
  | EdgesMaskSent
  | StrokesMaskSent
  | ImageMaskSent
  | NoiseMaskSent
  | EveryMaskSent
  | AnyMaskSent
  | NotMaskSent;
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Channel".
 */
export type Channel = "base_color" | "normal" | "roughness" | "metallic" | "height" | "occlusion";
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ProjectionSent".
 */
export type ProjectionSent =
  | PlanarSent
  | BoxSent
  | CylindricalSent
  | SphericalSent
  | TriplanarSent
  | FlowSent
  | RollSent
  | CameraSent
  | DrapeSent
  | LinesSent
  | FlattenSent;
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Pick".
 */
export type Pick =
  | AllPick
  | PartsPick
  | FacesPick
  | PatchesPick
  | FacingPick
  | ElementsPick
  | StoreysPick
  | SourcesPick
  | AnyPick
  | EveryPick
  | NotPick;
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Mask".
 */
export type Mask =
  | FadeMask
  | FadeRoundMask
  | FadeAboutMask
  | BandMask
  | FacingMask
  | SeamsMask
  | EdgesMask
  | StrokesMask
  | ImageMask
  | NoiseMask
  | EveryMask
  | AnyMask
  | NotMask;
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Projection".
 */
export type Projection =
  Planar | Box | Cylindrical | Spherical | Triplanar | Flow | Roll | Camera | Drape | Lines | Flatten;
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Typed".
 */
export type Typed = number | string;
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Unit".
 */
export type Unit = "mm" | "cm" | "m" | "in" | "ft";
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Upward".
 */
export type Upward = "y" | "z";
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Level".
 */
export type Level =
  "face" | "patch" | "part" | "plane" | "facing" | "surface" | "ring" | "shape" | "element" | "storey" | "source";
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Edit".
 */
export type Edit =
  | Accept
  | AddCoat
  | AddMask
  | Answer
  | ArrangePieces
  | Avoid
  | Balance
  | CarryThrough
  | ChangeMaterial
  | CutEdge
  | DrapeBetween
  | DropAdjustment
  | Duplicate
  | FitDatum
  | Flip
  | FollowEdge
  | FollowGrain
  | GrainTo
  | KeepCuts
  | Lay
  | LayEdge
  | LayPicture
  | LineAlong
  | Move
  | MovePieces
  | Offset
  | PlaceLike
  | PlaceModel
  | PlaceSheet
  | Remove
  | Rename
  | Repeat
  | RunAcross
  | RunOn
  | Scale
  | SetCells
  | SetCoatOptions
  | SetCoats
  | SetDatum
  | SetDatumFor
  | SetMaterial
  | SetOptions
  | SetOut
  | SetPick
  | SetProjection
  | SetSpread
  | SetTies
  | SetTone
  | SetToned
  | Split
  | Straighten
  | SwapMaterial
  | Switch
  | TakeSource
  | Tile
  | TurnBy
  | TurnDatum
  | TurnPick
  | TurnSeam
  | TurnTo
  | Vary
  | Forget
  | KeepPick
  | KeepView
  | TakeBack;
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Along".
 */
export type Along = "sheet" | "direction" | "edge" | "length" | "level" | "plumb";
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Options".
 */
export type Options =
  | PlanarOptions
  | BoxOptions
  | CylindricalOptions
  | SphericalOptions
  | TriplanarOptions
  | FlowOptions
  | RollOptions
  | CameraOptions
  | DrapeOptions
  | LinesOptions
  | FlattenOptions;
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "By".
 */
export type By = "part" | "board" | "patch" | "face";
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FigureName".
 */
export type FigureName = "bare" | "covered" | "untrue" | "smeared" | "mirrored" | "seams" | "adjusted";
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Way".
 */
export type Way = "replace" | "add" | "remove" | "keep" | "all" | "none" | "invert" | "grow" | "shrink" | "largest";
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ListedBy".
 */
export type ListedBy = "part" | "element" | "storey" | "source";

/**
 * Lay a finish on more faces: an answer to what a newer model left in doubt.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Accept".
 */
export interface Accept {
  faces: number[];
  finish: string;
  kind: "accept";
}
/**
 * Lay a new coat over all others of a finish, as it begins where it is to lie.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AddCoat".
 */
export interface AddCoat {
  finish: string;
  kind: "add_coat";
  start:
    | "all over"
    | ("fade" | "fade_round" | "fade_about" | "band" | "facing" | "seams" | "edges" | "strokes" | "image" | "noise");
}
/**
 * Put one more mask to where a coat of a finish lies, counted from 0, as it begins on the faces of the finish.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AddMask".
 */
export interface AddMask {
  finish: string;
  kind: "add_mask";
  row: number;
  start: "fade" | "fade_round" | "fade_about" | "band" | "facing" | "seams" | "edges" | "strokes" | "image" | "noise";
}
/**
 * Faces of a finish that lie otherwise than the rest. name: which way they look, and how large they are.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AdjustedSide".
 */
export interface AdjustedSide {
  faces: number;
  name: string;
}
/**
 * The adjustments of a finish by their names, and how cuts lie at the borders of its sides, in a sentence.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AdjustedSides".
 */
export interface AdjustedSides {
  cuts: string | null;
  sides: AdjustedSide[];
}
/**
 * How some faces of a finish lie otherwise; words: which.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Adjustment".
 */
export interface Adjustment {
  mirrored: boolean;
  offset_mm: Pair;
  size: number;
  turn_deg: number;
  words: string;
}
/**
 * What a datum is fitted to, as `core.projection.Aim` has it.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Aim".
 */
export interface Aim {
  along_edge?: boolean;
  axis?: ModelAxis;
  face?: number | null;
  right?: Triple | null;
  to?: "pick" | "box" | "face" | "view" | "axis";
  towards?: Triple | null;
}
/**
 * Every face.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AllPick".
 */
export interface AllPick {
  all: true;
}
/**
 * Settle a question of the list of what a newer model changed, counted from 0.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Answer".
 */
export interface Answer {
  item: number;
  kind: "answer";
}
/**
 * The largest of masks.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AnyMaskSent".
 */
export interface AnyMaskSent {
  any: MaskSent[];
}
/**
 * A straight fade.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FadeMaskSent".
 */
export interface FadeMaskSent {
  fade: FadeSent;
}
/**
 * From 0 at one place to 1 at another, along the line between them.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FadeSent".
 */
export interface FadeSent {
  ease?: "linear" | "smooth";
  from_mm: Triple;
  to_mm: Triple;
}
/**
 * A fade round a point.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FadeRoundMaskSent".
 */
export interface FadeRoundMaskSent {
  fade_round: FadeRoundSent;
}
/**
 * From 0 at one distance from a point to 1 at another.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FadeRoundSent".
 */
export interface FadeRoundSent {
  centre_mm: Triple;
  ease?: "linear" | "smooth";
  radii_mm: Pair;
}
/**
 * A fade about an axis.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FadeAboutMaskSent".
 */
export interface FadeAboutMaskSent {
  fade_about: FadeAboutSent;
}
/**
 * From 0 at one distance from an axis to 1 at another.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FadeAboutSent".
 */
export interface FadeAboutSent {
  axis: Triple;
  ease?: "linear" | "smooth";
  origin_mm: Triple;
  radii_mm: Pair;
}
/**
 * A band along a direction: heights, mostly.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "BandMaskSent".
 */
export interface BandMaskSent {
  band: BandSent;
}
/**
 * Between two places along a direction.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "BandSent".
 */
export interface BandSent {
  direction?: Triple;
  from_mm: number;
  soft_mm?: number;
  to_mm: number;
}
/**
 * By where the surface looks.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FacingMaskSent".
 */
export interface FacingMaskSent {
  facing: FacingSent;
}
/**
 * Within an angle of a direction.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FacingSent".
 */
export interface FacingSent {
  direction?: Triple;
  soft_deg?: number;
  within_deg: number;
}
/**
 * Along open seams.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SeamsMaskSent".
 */
export interface SeamsMaskSent {
  seams: SeamsSent;
}
/**
 * Near the open seams of the finish beneath.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SeamsSent".
 */
export interface SeamsSent {
  soft_mm?: number;
  within_mm: number;
}
/**
 * Along edges of the model.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "EdgesMaskSent".
 */
export interface EdgesMaskSent {
  edges: EdgesSent;
}
/**
 * Near the edges of the model that turn by more than an angle: convex ones, concave ones, or both.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "EdgesSent".
 */
export interface EdgesSent {
  angle_deg?: number;
  kind?: "convex" | "concave" | "both";
  soft_mm?: number;
  within_mm: number;
}
/**
 * Where strokes were drawn.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StrokesMaskSent".
 */
export interface StrokesMaskSent {
  strokes: StrokesSent;
}
/**
 * Strokes of a brush.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StrokesSent".
 */
export interface StrokesSent {
  lines?: BrushStroke[];
  soft_mm?: number;
}
/**
 * A line drawn on the model with a brush of a radius.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "BrushStroke".
 */
export interface BrushStroke {
  points_mm: Triple[];
  radius_mm: number;
}
/**
 * By an image.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ImageMaskSent".
 */
export interface ImageMaskSent {
  image: ImageOverSent;
}
/**
 * A channel of a material, laid by a laying of its own or as the finish beneath.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ImageOverSent".
 */
export interface ImageOverSent {
  cells?: CellsSent | null;
  channel?: Channel;
  datum?: DatumSent | null;
  high?: number;
  low?: number;
  material: string;
  offset_mm?: Pair;
  projection?: ProjectionSent | null;
  scale?: Pair;
  tile?: boolean;
  turn_deg?: number;
}
/**
 * A sheet cut into random patches, each turned and shifted, and blended over a width at their borders.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CellsSent".
 */
export interface CellsSent {
  seed?: number;
  shift?: boolean;
  size_mm: number;
  turn_deg?: number | "quarters";
  width_mm?: number;
}
/**
 * Origin and axes in the model's own coordinates.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "DatumSent".
 */
export interface DatumSent {
  origin_mm?: Triple;
  x_axis?: Triple;
  z_axis?: Triple;
}
/**
 * The sheet pushed straight onto the model.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PlanarSent".
 */
export interface PlanarSent {
  backs?: "through" | "unmirrored";
  kind: "planar";
}
/**
 * Six planar layings; wrapped runs the pattern round the upright sides of a box of size_mm.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "BoxSent".
 */
export interface BoxSent {
  corners?: "separate" | "wrapped";
  kind: "box";
  size_mm?: Triple | null;
}
/**
 * The sheet rolled round the datum's z axis; without radius_mm it is measured.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CylindricalSent".
 */
export interface CylindricalSent {
  cap_angle_deg?: number;
  caps?: boolean;
  kind: "cylindrical";
  radius_mm?: number | null;
  whole_repeats?: boolean;
}
/**
 * Longitude and latitude about the datum's origin; without radius_mm it is measured.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SphericalSent".
 */
export interface SphericalSent {
  kind: "spherical";
  radius_mm?: number | null;
}
/**
 * Three layings blended by the direction in which the surface looks.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TriplanarSent".
 */
export interface TriplanarSent {
  backs?: "unmirrored" | "mirrored";
  blend?: number;
  kind: "triplanar";
  materials?: AxisMaterialsSent;
}
/**
 * Materials of their own for the datum's axes, by id.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AxisMaterialsSent".
 */
export interface AxisMaterialsSent {
  x?: string | null;
  y?: string | null;
  z?: string | null;
}
/**
 * The sheet between two borders of the surface, following it.
 *
 * corners: places on the border, in order round it; None finds them. shift: turns the choice of borders.
 * hold "size" keeps the material's size, "borders" stretches `repeats` of it (1 x 1 unless stated) onto the four
 * borders. limits_mm: of the sheet along and across. start: a place on the border at which the sheet
 * begins. lines: strokes that it follows on its way where it keeps its size; reach: how far each turns what lies round
 * it, as a share of the square root of the area.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FlowSent".
 */
export interface FlowSent {
  corners?: [Triple, Triple, Triple, Triple] | null;
  hold?: "size" | "borders";
  kind: "flow";
  limits_mm?: [number | null, number | null];
  lines?: Stroke[];
  proportion?: "free" | "along" | "across";
  reach?: number;
  repeats?: [number, number] | null;
  shift?: number;
  start?: Triple | null;
  whole_repeats?: boolean;
}
/**
 * A stroke on the surface, place by place, in mm.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Stroke".
 */
export interface Stroke {
  points: Triple[];
}
/**
 * The sheet on one face, folded over its edges to all others.
 *
 * from: the face that it starts from, by its id or by a place on it; None takes the largest
 * of each region. together: the faces hang together, true near the start and softer the farther away.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "RollSent".
 */
export interface RollSent {
  from?: number | Triple | null;
  kind: "roll";
  together?: boolean;
}
/**
 * The sheet thrown onto the model from eye_mm towards target_mm.
 *
 * at_mm: the distance at which it has its size; None takes that of the middle of the picked faces.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CameraSent".
 */
export interface CameraSent {
  at_mm?: number | null;
  eye_mm: Triple;
  kind: "camera";
  target_mm: Triple;
  up?: Triple;
}
/**
 * The laying of a guide, taken over by faces that lie over it or under it.
 *
 * over: the faces of the guide; or lines: two lines of places that it is stretched between. shift_mm: how far it is
 * moved from there. by: along its averaged normals, or from what is closest. laid: how the guide is laid.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "DrapeSent".
 */
export interface DrapeSent {
  by?: "smooth" | "closest";
  kind: "drape";
  laid?: PlanarSent | BoxSent | CylindricalSent | SphericalSent | FlowSent | RollSent | LinesSent;
  lines?: [Triple[], Triple[]] | null;
  over?: Pick | null;
  shift_mm?: Triple;
}
/**
 * The sheet follows strokes; without any the surface is flattened freely.
 *
 * reach: how far a stroke turns what lies round it, as a share of the square root of the area.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "LinesSent".
 */
export interface LinesSent {
  kind: "lines";
  lines?: Stroke[];
  reach?: number;
}
/**
 * Parts by globs of their names.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PartsPick".
 */
export interface PartsPick {
  parts: string[];
}
/**
 * Faces by id, or packed: one bit a face, the lowest bit of the first byte for face 0, deflated (zlib,
 * RFC 1950), in base64. Long lists are packed as they come in.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FacesPick".
 */
export interface FacesPick {
  faces: number[] | string;
}
/**
 * Patches by id, at the crease angle of 30 degrees.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PatchesPick".
 */
export interface PatchesPick {
  patches: number[];
}
/**
 * Faces that look within an angle of a direction in model axes.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FacingPick".
 */
export interface FacingPick {
  facing: Triple;
  within_deg: number;
}
/**
 * Parts by globs of their type of building element.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ElementsPick".
 */
export interface ElementsPick {
  elements: string[];
}
/**
 * Parts by globs of their storey.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StoreysPick".
 */
export interface StoreysPick {
  storeys: string[];
}
/**
 * Faces by globs of the material that the model file gives them.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SourcesPick".
 */
export interface SourcesPick {
  sources: string[];
}
/**
 * Faces that one of the picks holds.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AnyPick".
 */
export interface AnyPick {
  any: Pick[];
}
/**
 * Faces that each of the picks holds.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "EveryPick".
 */
export interface EveryPick {
  every: Pick[];
}
/**
 * Faces that the pick does not hold.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "NotPick".
 */
export interface NotPick {
  not: Pick;
}
/**
 * The surface cut open and laid flat.
 *
 * cuts: along edges, at every crease, or found by itself until the share `wanted` of the area is stretched by no more than
 * max_stretch. aim: as much of it true as can be, or the stretch shared out. upright: what runs along the sheet: the
 * length of the piece, the piece as it stands on the model, or a direction. lines: strokes that the sheet follows.
 * straight: runs of edges that become parallel lines along the sheet.
 * apart: divided further until no piece lies over itself.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FlattenSent".
 */
export interface FlattenSent {
  aim?: "true" | "even";
  apart?: boolean;
  cuts?: CutEdgesSent | ("creases" | "auto");
  kind: "flatten";
  layout?: LayoutSent;
  lines?: Stroke[];
  max_stretch?: number;
  reach?: number;
  straight?: Straight[];
  upright?: ("grain" | "place") | Triple;
  wanted?: number;
}
/**
 * Cuts along edges: each a chain of places in mm, from corner to corner.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CutEdgesSent".
 */
export interface CutEdgesSent {
  edges?: Triple[][];
}
/**
 * Where the pieces lie on the sheet, and the gap between them.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "LayoutSent".
 */
export interface LayoutSent {
  by?: "place" | "packed";
  gap_mm?: number;
}
/**
 * A run of edges that becomes a straight line along the sheet. on: a place on the piece of which it is a border.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Straight".
 */
export interface Straight {
  along: Triple[];
  on: Triple;
}
/**
 * By noise.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "NoiseMaskSent".
 */
export interface NoiseMaskSent {
  noise: NoiseSent;
}
/**
 * Gradient noise of the place: 0 where it is low, 1 where it is high.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "NoiseSent".
 */
export interface NoiseSent {
  high?: number;
  low?: number;
  octaves?: number;
  seed?: number;
  size_mm: number;
}
/**
 * The product of masks.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "EveryMaskSent".
 */
export interface EveryMaskSent {
  every: MaskSent[];
}
/**
 * What a mask leaves out.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "NotMaskSent".
 */
export interface NotMaskSent {
  not: MaskSent;
}
/**
 * The largest of masks.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AnyMask".
 */
export interface AnyMask {
  any: Mask[];
}
/**
 * A straight fade.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FadeMask".
 */
export interface FadeMask {
  fade: Fade;
}
/**
 * From 0 at one place to 1 at another, along the line between them.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Fade".
 */
export interface Fade {
  ease: "linear" | "smooth";
  from_mm: Triple;
  to_mm: Triple;
}
/**
 * A fade round a point.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FadeRoundMask".
 */
export interface FadeRoundMask {
  fade_round: FadeRound;
}
/**
 * From 0 at one distance from a point to 1 at another.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FadeRound".
 */
export interface FadeRound {
  centre_mm: Triple;
  ease: "linear" | "smooth";
  radii_mm: Pair;
}
/**
 * A fade about an axis.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FadeAboutMask".
 */
export interface FadeAboutMask {
  fade_about: FadeAbout;
}
/**
 * From 0 at one distance from an axis to 1 at another.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FadeAbout".
 */
export interface FadeAbout {
  axis: Triple;
  ease: "linear" | "smooth";
  origin_mm: Triple;
  radii_mm: Pair;
}
/**
 * A band along a direction: heights, mostly.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "BandMask".
 */
export interface BandMask {
  band: Band;
}
/**
 * Between two places along a direction.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Band".
 */
export interface Band {
  direction: Triple;
  from_mm: number;
  soft_mm: number;
  to_mm: number;
}
/**
 * By where the surface looks.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FacingMask".
 */
export interface FacingMask {
  facing: Facing;
}
/**
 * Within an angle of a direction.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Facing".
 */
export interface Facing {
  direction: Triple;
  soft_deg: number;
  within_deg: number;
}
/**
 * Along open seams.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SeamsMask".
 */
export interface SeamsMask {
  seams: Seams;
}
/**
 * Near the open seams of the finish beneath.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Seams".
 */
export interface Seams {
  soft_mm: number;
  within_mm: number;
}
/**
 * Along edges of the model.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "EdgesMask".
 */
export interface EdgesMask {
  edges: Edges;
}
/**
 * Near the edges of the model that turn by more than an angle: convex ones, concave ones, or both.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Edges".
 */
export interface Edges {
  angle_deg: number;
  kind: "convex" | "concave" | "both";
  soft_mm: number;
  within_mm: number;
}
/**
 * Where strokes were drawn.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StrokesMask".
 */
export interface StrokesMask {
  strokes: Strokes;
}
/**
 * Strokes of a brush.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Strokes".
 */
export interface Strokes {
  lines: BrushStroke[];
  soft_mm: number;
}
/**
 * By an image.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ImageMask".
 */
export interface ImageMask {
  image: ImageOver;
}
/**
 * A channel of a material, laid by a laying of its own or as the finish beneath.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ImageOver".
 */
export interface ImageOver {
  cells: Cells | null;
  channel: Channel;
  datum: Datum | null;
  high: number;
  low: number;
  material: string;
  offset_mm: Pair;
  projection: Projection | null;
  scale: Pair;
  tile: boolean;
  turn_deg: number;
}
/**
 * A sheet cut into random patches, each turned and shifted, and blended over a width at their borders.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Cells".
 */
export interface Cells {
  seed: number;
  shift: boolean;
  size_mm: number;
  turn_deg: number | "quarters";
  width_mm: number;
}
/**
 * Origin and axes in the model's own coordinates.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Datum".
 */
export interface Datum {
  origin_mm: Triple;
  x_axis: Triple;
  z_axis: Triple;
}
/**
 * The sheet pushed straight onto the model.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Planar".
 */
export interface Planar {
  backs: "through" | "unmirrored";
  kind: "planar";
}
/**
 * Six planar layings; wrapped runs the pattern round the upright sides of a box of size_mm.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Box".
 */
export interface Box {
  corners: "separate" | "wrapped";
  kind: "box";
  size_mm: Triple | null;
}
/**
 * The sheet rolled round the datum's z axis; without radius_mm it is measured.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Cylindrical".
 */
export interface Cylindrical {
  cap_angle_deg: number;
  caps: boolean;
  kind: "cylindrical";
  radius_mm: number | null;
  whole_repeats: boolean;
}
/**
 * Longitude and latitude about the datum's origin; without radius_mm it is measured.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Spherical".
 */
export interface Spherical {
  kind: "spherical";
  radius_mm: number | null;
}
/**
 * Three layings blended by the direction in which the surface looks.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Triplanar".
 */
export interface Triplanar {
  backs: "unmirrored" | "mirrored";
  blend: number;
  kind: "triplanar";
  materials: AxisMaterials;
}
/**
 * Materials of their own for the datum's axes, by id.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AxisMaterials".
 */
export interface AxisMaterials {
  x: string | null;
  y: string | null;
  z: string | null;
}
/**
 * The sheet between two borders of the surface, following it.
 *
 * corners: places on the border, in order round it; None finds them. shift: turns the choice of borders.
 * hold "size" keeps the material's size, "borders" stretches `repeats` of it (1 x 1 unless stated) onto the four
 * borders. limits_mm: of the sheet along and across. start: a place on the border at which the sheet
 * begins. lines: strokes that it follows on its way where it keeps its size; reach: how far each turns what lies round
 * it, as a share of the square root of the area.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Flow".
 */
export interface Flow {
  corners: [Triple, Triple, Triple, Triple] | null;
  hold: "size" | "borders";
  kind: "flow";
  limits_mm: [number | null, number | null];
  lines: Stroke[];
  proportion: "free" | "along" | "across";
  reach: number;
  repeats: [number, number] | null;
  shift: number;
  start: Triple | null;
  whole_repeats: boolean;
}
/**
 * The sheet on one face, folded over its edges to all others.
 *
 * from: the face that it starts from, by its id or by a place on it; None takes the largest
 * of each region. together: the faces hang together, true near the start and softer the farther away.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Roll".
 */
export interface Roll {
  from: number | Triple | null;
  kind: "roll";
  together: boolean;
}
/**
 * The sheet thrown onto the model from eye_mm towards target_mm.
 *
 * at_mm: the distance at which it has its size; None takes that of the middle of the picked faces.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Camera".
 */
export interface Camera {
  at_mm: number | null;
  eye_mm: Triple;
  kind: "camera";
  target_mm: Triple;
  up: Triple;
}
/**
 * The laying of a guide, taken over by faces that lie over it or under it.
 *
 * over: the faces of the guide; or lines: two lines of places that it is stretched between. shift_mm: how far it is
 * moved from there. by: along its averaged normals, or from what is closest. laid: how the guide is laid.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Drape".
 */
export interface Drape {
  by: "smooth" | "closest";
  kind: "drape";
  laid: Planar | Box | Cylindrical | Spherical | Flow | Roll | Lines;
  lines: [Triple[], Triple[]] | null;
  over: Pick | null;
  shift_mm: Triple;
}
/**
 * The sheet follows strokes; without any the surface is flattened freely.
 *
 * reach: how far a stroke turns what lies round it, as a share of the square root of the area.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Lines".
 */
export interface Lines {
  kind: "lines";
  lines: Stroke[];
  reach: number;
}
/**
 * The surface cut open and laid flat.
 *
 * cuts: along edges, at every crease, or found by itself until the share `wanted` of the area is stretched by no more than
 * max_stretch. aim: as much of it true as can be, or the stretch shared out. upright: what runs along the sheet: the
 * length of the piece, the piece as it stands on the model, or a direction. lines: strokes that the sheet follows.
 * straight: runs of edges that become parallel lines along the sheet.
 * apart: divided further until no piece lies over itself.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Flatten".
 */
export interface Flatten {
  aim: "true" | "even";
  apart: boolean;
  cuts: CutEdges | ("creases" | "auto");
  kind: "flatten";
  layout: Layout;
  lines: Stroke[];
  max_stretch: number;
  reach: number;
  straight: Straight[];
  upright: ("grain" | "place") | Triple;
  wanted: number;
}
/**
 * Cuts along edges: each a chain of places in mm, from corner to corner.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CutEdges".
 */
export interface CutEdges {
  edges: Triple[][];
}
/**
 * Where the pieces lie on the sheet, and the gap between them.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Layout".
 */
export interface Layout {
  by: "place" | "packed";
  gap_mm: number;
}
/**
 * By noise.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "NoiseMask".
 */
export interface NoiseMask {
  noise: Noise;
}
/**
 * Gradient noise of the place: 0 where it is low, 1 where it is high.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Noise".
 */
export interface Noise {
  high: number;
  low: number;
  octaves: number;
  seed: number;
  size_mm: number;
}
/**
 * The product of masks.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "EveryMask".
 */
export interface EveryMask {
  every: Mask[];
}
/**
 * What a mask leaves out.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "NotMask".
 */
export interface NotMask {
  not: Mask;
}
/**
 * Arrange the pieces of a finish that a pick touches, or split the picked faces off.
 *
 * gap_mm: between pieces at least, where they do not lie stacked. turns: how they may be turned to be packed.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ArrangePieces".
 */
export interface ArrangePieces {
  finish: string;
  gap_mm?: number | string;
  how: "apart" | "packed" | "stacked" | "split";
  kind: "arrange_pieces";
  pick: Pick;
  turns?: "none" | "half" | "quarter";
}
/**
 * Move the pieces of a finish that a pick touches off the marked areas of its material, by the least that does it.
 *
 * box_mm: another area, marked first: a box anywhere on the sheet, in mm of the model. forget: all areas are forgotten
 * instead, and no piece moves.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Avoid".
 */
export interface Avoid {
  box_mm?: [number, number, number, number] | null;
  finish: string;
  forget?: boolean;
  kind: "avoid";
  pick: Pick;
}
/**
 * A bake to be planned. finishes: by their codes, None for those that no file can hold otherwise.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "BakeAsked".
 */
export interface BakeAsked {
  finishes?: string[] | null;
  height_bits?: 8 | 16;
  kind?: "glb" | "gltf" | "obj";
  padding_px?: number;
  px_per_m?: number;
  size?: number;
  unfold?: "own" | "anew";
}
/**
 * What will be made: width and height of each image, how much of them is filled, and how true they are.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "BakePlan".
 */
export interface BakePlan {
  filled: number;
  finishes: string[];
  greatest_px_per_m: number;
  images: [number, number][];
  least_px_per_m: number;
  pieces: number;
  true_share: number;
}
/**
 * A bake on its way: planned, and then baked. error: why it failed; notes: what is said of the files.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "BakeState".
 */
export interface BakeState {
  doing: string;
  error: string | null;
  notes: string[];
  plan: BakePlan | null;
  share: number;
  state: "working" | "ready" | "failed" | "stopped";
  step: "plan" | "bake";
}
/**
 * A finish that can be baked; needs: no file can hold all of it otherwise.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Bakeable".
 */
export interface Bakeable {
  area_m2: number;
  key: string;
  name: string;
  needs: boolean;
}
/**
 * Make the cuts at opposite borders equal on the sides of a finish that a pick holds, or on all.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Balance".
 */
export interface Balance {
  finish: string;
  kind: "balance";
  pick?: Pick | null;
}
/**
 * The faces without a finish.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Bare".
 */
export interface Bare {
  area_m2: number;
  faces: number;
}
/**
 * The revision that undo or redo is based on.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Based".
 */
export interface Based {
  revision: number;
}
/**
 * How much of each board is used, as a share, and the pieces that no board holds.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "BoardsTold".
 */
export interface BoardsTold {
  too_large: TooLarge[];
  used: number[];
}
/**
 * A piece that no board holds, by its number in the pattern.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TooLarge".
 */
export interface TooLarge {
  number: number;
  size_mm: Pair;
}
/**
 * Options of a box; a size of None is measured.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "BoxOptions".
 */
export interface BoxOptions {
  corners?: "separate" | "wrapped";
  kind: "box";
  size_mm?: [Typed, Typed, Typed] | null;
}
/**
 * Options of a camera; a distance of None is measured.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CameraOptions".
 */
export interface CameraOptions {
  at_mm?: number | string | null;
  eye_mm?: Triple;
  kind: "camera";
  target_mm?: Triple;
  up?: Triple;
}
/**
 * Lay what lies on one side of a body on the other one too, from the nearest place, so that courses meet at the edge.
 *
 * What is seen from behind is turned over along, so that it does not read mirrored.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CarryThrough".
 */
export interface CarryThrough {
  finish: string;
  kind: "carry_through";
  pick: Pick;
}
/**
 * Change a material of the project, and so every finish that uses it; what is left out stays.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ChangeMaterial".
 */
export interface ChangeMaterial {
  grain_deg?: number | string | null;
  kind: "change_material";
  linked?: boolean;
  marks?: Marks | null;
  material: string;
  name?: string | null;
  normal_y?: ("+" | "-") | null;
  repeat_mm?: [number | string | null, number | string | null] | null;
}
/**
 * Two marks on a material's image, as shares from its lower left corner, and the true distance between.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Marks".
 */
export interface Marks {
  a: Pair;
  b: Pair;
  distance: Typed;
  way?: "free" | "along" | "up";
}
/**
 * Across how much of the edges within a finish each of its channels does not run on, in m.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ChannelSeams".
 */
export interface ChannelSeams {
  broken_m: {
    base_color?: number;
    height?: number;
    metallic?: number;
    normal?: number;
    occlusion?: number;
    roughness?: number;
  };
  edges_m: number;
}
/**
 * A side of a projection as a surface, in datum coordinates, as `core.projection.charts.Chart` has it.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Chart".
 */
export interface Chart {
  along: Triple;
  along_mm: number;
  origin: Triple;
  out: Triple;
  radius_mm: number;
  shape: "flat" | "cylinder" | "sphere";
  up: Triple;
}
/**
 * An import that is read, and what the check found once it is ready: until then findings are missing.
 *
 * exact: how many patches there are of each kind of exact surface. beside: what stands beside it in the picture.
 * why: why unit and axis were guessed as they were. readings: by unit, the largest side, and what is as large.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CheckedModel".
 */
export interface CheckedModel {
  asks_unit: boolean;
  beside: string | null;
  doing: string;
  error: string | null;
  exact: {
    [k: string]: number;
  };
  faces: number;
  file: string;
  findings: Finding[];
  found: string[];
  guessed: boolean;
  images: number;
  materials: number;
  parts: number;
  readings: {
    [k: string]: string;
  };
  share: number;
  size_mm: Triple;
  state: "working" | "ready" | "failed" | "stopped";
  storeys: string[];
  tolerance_mm: number | null;
  triangles: number;
  unit: Unit;
  up: Upward;
  uv_sets: number;
  why: string;
}
/**
 * A line of the check. mend: what can be done about it; None where nothing has to. shown: whether faces show it.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Finding".
 */
export interface Finding {
  count: number;
  key: string;
  mend: string | null;
  shown: boolean;
  then: string;
  words: string;
}
/**
 * The face under the pointer, and what of the model it stands for.
 *
 * place: of the click, in mm; a ring goes over the edge nearest to it. angle_deg: for "facing".
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Clicked".
 */
export interface Clicked {
  angle_deg?: number;
  crease_deg?: number;
  face: number;
  level: Level;
  place?: Triple | null;
}
/**
 * A plane that cuts the model open: what lies towards the axis' plus (or minus) side is not drawn.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ClipSent".
 */
export interface ClipSent {
  at_mm: number;
  axis: "x" | "y" | "z";
  flipped?: boolean;
}
/**
 * A plane that cuts the model open: what lies towards the axis' plus (or minus) side is not drawn.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Clip".
 */
export interface Clip {
  at_mm: number;
  axis: "x" | "y" | "z";
  flipped: boolean;
}
/**
 * A coat over a finish. material: None where it changes only what it states: tint, roughness, metalness.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CoatSent".
 */
export interface CoatSent {
  cells?: CellsSent | null;
  channels?: JoinsSent;
  datum?: DatumSent | null;
  material?: string | null;
  metallic?: number | null;
  name: string;
  offset_mm?: Pair;
  on?: boolean;
  projection?: ProjectionSent | null;
  roughness?: number | null;
  scale?: Pair;
  strength?: number;
  tile?: boolean;
  tint?: string | null;
  turn_deg?: number;
  where?: MaskSent | null;
}
/**
 * How each channel of a coat joins what lies beneath; None for the default of the channel.
 *
 * Everything mixes, but for normal and height where the base color multiplies: those are added.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "JoinsSent".
 */
export interface JoinsSent {
  base_color?: "mix" | "multiply" | "none";
  height?: ("mix" | "add" | "none") | null;
  metallic?: "mix" | "multiply" | "none";
  normal?: ("mix" | "add" | "none") | null;
  occlusion?: "mix" | "multiply" | "none";
  roughness?: "mix" | "multiply" | "none";
}
/**
 * A coat over a finish. material: None where it changes only what it states: tint, roughness, metalness.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Coat".
 */
export interface Coat {
  cells: Cells | null;
  channels: Joins;
  datum: Datum | null;
  material: string | null;
  metallic: number | null;
  name: string;
  offset_mm: Pair;
  on: boolean;
  projection: Projection | null;
  roughness: number | null;
  scale: Pair;
  strength: number;
  tile: boolean;
  tint: string | null;
  turn_deg: number;
  where: Mask | null;
}
/**
 * How each channel of a coat joins what lies beneath; None for the default of the channel.
 *
 * Everything mixes, but for normal and height where the base color multiplies: those are added.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Joins".
 */
export interface Joins {
  base_color: "mix" | "multiply" | "none";
  height: ("mix" | "add" | "none") | null;
  metallic: "mix" | "multiply" | "none";
  normal: ("mix" | "add" | "none") | null;
  occlusion: "mix" | "multiply" | "none";
  roughness: "mix" | "multiply" | "none";
}
/**
 * Coats kept under a name, by the names of each.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CoatSet".
 */
export interface CoatSet {
  coats: string[];
  name: string;
}
/**
 * Which kept coats.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CoatSetNamed".
 */
export interface CoatSetNamed {
  name: string;
}
/**
 * The rows of single sheets, in the order of the schedule.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CoverHeader".
 */
export interface CoverHeader {
  singles: number[];
}
/**
 * The number of what was made.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Created".
 */
export interface Created {
  id: number;
}
/**
 * Cut along the edge nearest to a place, all that it runs on to, or the shortest way there from the cut before.
 *
 * What is cut already is closed again. Cuts that were found by themselves give way to those that are picked.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CutEdge".
 */
export interface CutEdge {
  edge: OnFace;
  finishes: string[];
  kind: "cut_edge";
  take?: "edge" | "run" | "way";
}
/**
 * A place on a face; the edge of the face that is nearest to it is meant.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "OnFace".
 */
export interface OnFace {
  face: number;
  place: Triple;
}
/**
 * Options of a cylinder; a radius of None is measured.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CylindricalOptions".
 */
export interface CylindricalOptions {
  cap_angle_deg?: Typed;
  caps?: boolean;
  kind: "cylindrical";
  radius_mm?: number | string | null;
  whole_repeats?: boolean;
}
/**
 * What is drawn of a finish's datum. parts: how many datums there are; with more than one nothing is drawn.
 *
 * reach_mm: how far the pick extends. projection: with everything measured that was left open. frames: of a laying that
 * follows the surface. troubles: why some of its faces could not be laid. tie_off_mm: by how much each tie is missed.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "DatumDrawing".
 */
export interface DatumDrawing {
  charts: Chart[];
  datum: Datum | null;
  frames: Frame[];
  laying_key: string;
  parts: number;
  projection: Projection | null;
  reach_mm: [Triple, Triple] | null;
  tie_off_mm: number[];
  troubles: string[];
}
/**
 * What the laying of one region hangs on, as `core.solve.solution.Frame` has it. veil: three corners a triangle.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Frame".
 */
export interface Frame {
  corners: Triple[];
  form: string;
  lines: FrameLine[];
  size_mm: Pair | null;
  veil: Triple[];
}
/**
 * A line on the surface that a laying hangs on, in model coordinates (mm). name: a border, or "cut".
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FrameLine".
 */
export interface FrameLine {
  name: string;
  points: Triple[];
}
/**
 * Drape finishes over a guide between the two borders or creases that are nearest to two places.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "DrapeBetween".
 */
export interface DrapeBetween {
  edges: [OnFace, OnFace];
  finishes: string[];
  kind: "drape_between";
}
/**
 * Options of a drape.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "DrapeOptions".
 */
export interface DrapeOptions {
  by?: "smooth" | "closest";
  kind: "drape";
  laid?: PlanarSent | BoxSent | CylindricalSent | SphericalSent | FlowSent | RollSent | LinesSent;
  lines?: [Triple[], Triple[]] | null;
  over?: Pick | null;
  shift_mm?: [Typed, Typed, Typed];
}
/**
 * Take one adjustment off a finish, counted from 0, or all of them where none is named.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "DropAdjustment".
 */
export interface DropAdjustment {
  finish: string;
  kind: "drop_adjustment";
  row?: number | null;
}
/**
 * A copy of each finish in the row below it: on the same faces, laid the same, under a name of its own.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Duplicate".
 */
export interface Duplicate {
  finishes: string[];
  kind: "duplicate";
}
/**
 * An edit and the revision that it is based on.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "EditRequest".
 */
export interface EditRequest {
  edit: Edit;
  revision: number;
}
/**
 * Fit the datum of finishes anew.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FitDatum".
 */
export interface FitDatum {
  aim?: Aim;
  finishes: string[];
  kind: "fit_datum";
}
/**
 * Flip the sheet of finishes.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Flip".
 */
export interface Flip {
  finishes: string[];
  kind: "flip";
  way: "along" | "up";
}
/**
 * Let the grain of finishes run along the edge of a face that is nearest to a place.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FollowEdge".
 */
export interface FollowEdge {
  edge: OnFace;
  finishes: string[];
  kind: "follow_edge";
}
/**
 * Let the grain of finishes follow a rule, from which their turn counts.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FollowGrain".
 */
export interface FollowGrain {
  finishes: string[];
  grain: GrainRuleSent;
  kind: "follow_grain";
}
/**
 * What the grain follows; the finish's turn_deg counts from there.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "GrainRuleSent".
 */
export interface GrainRuleSent {
  along: Along;
  direction?: Triple | null;
}
/**
 * Turn finishes so that the grain runs at an angle on the face.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "GrainTo".
 */
export interface GrainTo {
  finishes: string[];
  grain_deg: Typed;
  kind: "grain_to";
}
/**
 * Take the cuts of flattened finishes, however they were found, as cuts that are picked.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "KeepCuts".
 */
export interface KeepCuts {
  finishes: string[];
  kind: "keep_cuts";
}
/**
 * Lay a material on a pick: a finish at the end of the schedule.
 *
 * datum: taken as it is in place of a fit. like: a finish whose whole placement is taken over.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Lay".
 */
export interface Lay {
  aim?: Aim;
  datum?: TypedDatum | null;
  kind: "lay";
  like?: string | null;
  material: string;
  pick: Pick;
  projection: ProjectionSent;
}
/**
 * A datum as typed.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TypedDatum".
 */
export interface TypedDatum {
  origin_mm: [Typed, Typed, Typed];
  x_axis: Triple;
  z_axis: Triple;
}
/**
 * Lay the edge of a piece that is nearest to a place along the sheet or across it, or join two pieces along it.
 *
 * Of two pieces that are joined the smaller one moves.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "LayEdge".
 */
export interface LayEdge {
  edge: OnFace;
  kind: "lay_edge";
  to: "level" | "plumb" | "joined";
}
/**
 * Lay a picture of a finish's flat view as a single sheet, where it was taken out.
 *
 * material: holds the picture, its repeat what of the sheet it shows. low_mm: its lower left corner on the sheet as it
 * lies now, in mm of the model.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "LayPicture".
 */
export interface LayPicture {
  finish: string;
  kind: "lay_picture";
  low_mm: Pair;
  material: string;
}
/**
 * Add the border or crease that is nearest to a place as a line that the grain follows.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "LineAlong".
 */
export interface LineAlong {
  edge: OnFace;
  finishes: string[];
  kind: "line_along";
}
/**
 * Move a finish to another row of the schedule, counted from 0; later rows cover earlier ones.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Move".
 */
export interface Move {
  finish: string;
  kind: "move";
  to: number;
}
/**
 * Turn, flip, size and shift the pieces of a finish that a pick touches, as one, about their middle.
 *
 * size: what they are to lie at for their true size; None leaves it.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "MovePieces".
 */
export interface MovePieces {
  finish: string;
  flipped?: boolean;
  kind: "move_pieces";
  pick: Pick;
  shift_mm?: [Typed, Typed];
  size?: (number | string) | null;
  turn_by?: Typed;
}
/**
 * Shift the sheet of finishes.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Offset".
 */
export interface Offset {
  finishes: string[];
  kind: "offset";
  offset_mm: [number | string | null, number | string | null];
}
/**
 * Place finishes like another one: projection, datum, and how the sheet lies.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PlaceLike".
 */
export interface PlaceLike {
  finishes: string[];
  kind: "place_like";
  like: string;
}
/**
 * Read the model's numbers in another unit, with another axis up, or put it elsewhere.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PlaceModel".
 */
export interface PlaceModel {
  kind: "place_model";
  shift_mm?: [Typed, Typed, Typed];
  unit: Unit;
  up: Upward;
}
/**
 * Turn, shift and size the sheet of finishes in one go, as one drag does; what is left out stays.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PlaceSheet".
 */
export interface PlaceSheet {
  finishes: string[];
  kind: "place_sheet";
  offset_mm: [Typed, Typed];
  scale?: [Typed, Typed] | null;
  turn_deg?: number | string | null;
}
/**
 * Take finishes off the schedule; their faces show what lies under them.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Remove".
 */
export interface Remove {
  finishes: string[];
  kind: "remove";
}
/**
 * Give finishes a name.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Rename".
 */
export interface Rename {
  finishes: string[];
  kind: "rename";
  name: string;
}
/**
 * Give the repeat of finishes a size.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Repeat".
 */
export interface Repeat {
  finishes: string[];
  kind: "repeat";
  linked?: boolean;
  repeat_mm: [number | string | null, number | string | null];
}
/**
 * Let the pattern run on across the edge of a face nearest to a place; the face's own side stays.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "RunAcross".
 */
export interface RunAcross {
  face: number;
  kind: "run_across";
  place: Triple;
}
/**
 * Let the pattern of finishes run on across as many edges as can be, or not.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "RunOn".
 */
export interface RunOn {
  finishes: string[];
  kind: "run_on";
  run_on: boolean;
}
/**
 * Enlarge the sheet of finishes.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Scale".
 */
export interface Scale {
  finishes: string[];
  kind: "scale";
  scale: [number | string | null, number | string | null];
}
/**
 * Cut the sheets of finishes into random cells, each turned and shifted; none leaves them whole.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SetCells".
 */
export interface SetCells {
  cells: CellsSent | null;
  finishes: string[];
  kind: "set_cells";
}
/**
 * Change some options of the projection that one coat of a finish has, counted from 0; others stay as they are.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SetCoatOptions".
 */
export interface SetCoatOptions {
  finish: string;
  kind: "set_coat_options";
  options: Options;
  row: number;
}
/**
 * Options of a planar projection.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PlanarOptions".
 */
export interface PlanarOptions {
  backs?: "through" | "unmirrored";
  kind: "planar";
}
/**
 * Options of a sphere; a radius of None is measured.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SphericalOptions".
 */
export interface SphericalOptions {
  kind: "spherical";
  radius_mm?: number | string | null;
}
/**
 * Options of a triplanar laying.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TriplanarOptions".
 */
export interface TriplanarOptions {
  backs?: "unmirrored" | "mirrored";
  blend?: number | string;
  kind: "triplanar";
  materials?: AxisMaterialsSent;
}
/**
 * Options of a flow; corners of None are found, limits of None are as much as there is.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FlowOptions".
 */
export interface FlowOptions {
  corners?: [Triple, Triple, Triple, Triple] | null;
  hold?: "size" | "borders";
  kind: "flow";
  limits_mm?: [number | string | null, number | string | null];
  lines?: Stroke[];
  proportion?: "free" | "along" | "across";
  reach?: number | string;
  repeats?: [number, number] | null;
  shift?: number;
  start?: Triple | null;
  whole_repeats?: boolean;
}
/**
 * Options of a roll.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "RollOptions".
 */
export interface RollOptions {
  from?: number | Triple | null;
  kind: "roll";
  together?: boolean;
}
/**
 * Options of grain lines.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "LinesOptions".
 */
export interface LinesOptions {
  kind: "lines";
  lines?: Stroke[];
  reach?: number | string;
}
/**
 * Options of a flattening.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FlattenOptions".
 */
export interface FlattenOptions {
  aim?: "true" | "even";
  apart?: boolean;
  cuts?: CutEdgesSent | ("creases" | "auto");
  kind: "flatten";
  layout?: LayoutOptions;
  lines?: Stroke[];
  max_stretch?: number | string;
  reach?: number | string;
  straight?: Straight[];
  upright?: ("grain" | "place") | Triple;
  wanted?: number | string;
}
/**
 * A layout as it is typed.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "LayoutOptions".
 */
export interface LayoutOptions {
  by?: "place" | "packed";
  gap_mm?: number | string;
}
/**
 * Lay these coats over finishes, in the place of all coats before.
 *
 * A coat with a projection of its own and no datum is fitted to the faces of the finish.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SetCoats".
 */
export interface SetCoats {
  coats: CoatSent[];
  finishes: string[];
  kind: "set_coats";
}
/**
 * Put the datum of finishes where it is stated.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SetDatum".
 */
export interface SetDatum {
  datum: TypedDatum;
  finishes: string[];
  kind: "set_datum";
}
/**
 * Give each part, board or side a datum of its own, or all of a finish one.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SetDatumFor".
 */
export interface SetDatumFor {
  datum_for: "pick" | "part" | "board" | "side";
  finishes: string[];
  kind: "set_datum_for";
}
/**
 * Lay another material; the grain on the face stays as it was.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SetMaterial".
 */
export interface SetMaterial {
  finishes: string[];
  kind: "set_material";
  material: string;
}
/**
 * Change some options of the projection that finishes have; those left out stay as they are.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SetOptions".
 */
export interface SetOptions {
  finishes: string[];
  kind: "set_options";
  options: Options;
}
/**
 * Put a joint, or the middle of a unit, on the corner, edge or middle of a face nearest to a place.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SetOut".
 */
export interface SetOut {
  at: "corner" | "edge" | "middle";
  face: number;
  kind: "set_out";
  place: Triple;
  what?: "joint" | "centre";
}
/**
 * Lay finishes on other faces.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SetPick".
 */
export interface SetPick {
  finishes: string[];
  kind: "set_pick";
  pick: Pick;
}
/**
 * Lay finishes by another projection. datum: taken as it is in place of a fit. aim: what is fitted to, anew.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SetProjection".
 */
export interface SetProjection {
  aim?: Aim | null;
  datum?: TypedDatum | null;
  finishes: string[];
  kind: "set_projection";
  projection: ProjectionSent;
}
/**
 * Let each piece of finishes be a little lighter or darker; none makes them alike.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SetSpread".
 */
export interface SetSpread {
  finishes: string[];
  kind: "set_spread";
  spread: SpreadSent | null;
}
/**
 * How much lighter or darker each part, board, unit of the material or random cell may be, as a share.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SpreadSent".
 */
export interface SpreadSent {
  by?: "part" | "board" | "unit" | "cell";
  lightness?: number;
  seed?: number;
}
/**
 * Tie places of the sheet to places of the model, in the place of all ties before; by: what they may do to it.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SetTies".
 */
export interface SetTies {
  by?: ("move" | "turn" | "scale" | "skew") | null;
  finishes: string[];
  kind: "set_ties";
  tie: Tie[];
}
/**
 * A place of the sheet that is to fall on a place of the model.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Tie".
 */
export interface Tie {
  at_mm: Triple;
  sheet_mm: Pair;
}
/**
 * Tint finishes, or change how light, how rough they are, how strong their bumps; what is left out stays.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SetTone".
 */
export interface SetTone {
  bump?: number | null;
  finishes: string[];
  kind: "set_tone";
  lightness?: number | null;
  roughness?: number | null;
  tint?: string | null;
}
/**
 * Tone these faces otherwise than the rest, in the place of all that were toned before.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SetToned".
 */
export interface SetToned {
  finishes: string[];
  kind: "set_toned";
  toned: Toned[];
}
/**
 * Faces of a finish that look otherwise than the rest.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Toned".
 */
export interface Toned {
  bump?: number;
  lightness?: number;
  pick: Pick;
  roughness?: number;
  tint?: string | null;
}
/**
 * Give a pick within a finish a projection of its own: a row below it, with the same material.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Split".
 */
export interface Split {
  aim?: Aim;
  finish: string;
  kind: "split";
  pick: Pick;
  projection: ProjectionSent;
}
/**
 * Lay the edge nearest to a place, and all that it runs on to, as a straight line along the sheet; or let it be again.
 *
 * It is a border of the piece that the face belongs to. strips: instead the two long borders of every piece that this
 * pick touches.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Straighten".
 */
export interface Straighten {
  edge?: OnFace | null;
  finish: string;
  kind: "straighten";
  strips?: Pick | null;
  take?: "edge" | "run" | "way";
}
/**
 * Put another material in the place of one, on all its uses; mm and grain hold.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SwapMaterial".
 */
export interface SwapMaterial {
  kind: "swap_material";
  material: string;
  to: string;
}
/**
 * Switch finishes on or off; where one is off, what lies beneath shows.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Switch".
 */
export interface Switch {
  finishes: string[];
  kind: "switch";
  on: boolean;
}
/**
 * Take a material that the model brought, counted from 0, as a material of the project.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TakeSource".
 */
export interface TakeSource {
  kind: "take_source";
  source: number;
}
/**
 * Repeat the sheet of finishes, or show it once.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Tile".
 */
export interface Tile {
  finishes: string[];
  kind: "tile";
  tile: boolean;
}
/**
 * Turn the sheet of finishes further.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TurnBy".
 */
export interface TurnBy {
  finishes: string[];
  kind: "turn_by";
  turn_by: Typed;
}
/**
 * Turn the datum of finishes about one of its axes.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TurnDatum".
 */
export interface TurnDatum {
  axis: "x" | "y" | "z";
  finishes: string[];
  kind: "turn_datum";
  turn_by: Typed;
}
/**
 * Turn or flip the sheet on those faces of a finish that a pick holds; on all where it holds none.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TurnPick".
 */
export interface TurnPick {
  finish: string;
  kind: "turn_pick";
  mirrored?: boolean;
  pick: Pick;
  turn_by?: Typed;
}
/**
 * Turn where a seam falls: away from a direction, or through a place.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TurnSeam".
 */
export interface TurnSeam {
  away_from?: Triple | null;
  finishes: string[];
  kind: "turn_seam";
  to_point?: Triple | null;
}
/**
 * Turn the sheet of finishes to an angle.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TurnTo".
 */
export interface TurnTo {
  finishes: string[];
  kind: "turn_to";
  turn_deg: Typed;
}
/**
 * Let no two pieces of a finish be alike; without a variation they are.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Vary".
 */
export interface Vary {
  finishes: string[];
  kind: "vary";
  variation: VariationSent | null;
}
/**
 * Each part, board, patch or face takes its own piece of the sheet.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "VariationSent".
 */
export interface VariationSent {
  by?: By;
  half_turns?: boolean;
  mirrors?: boolean;
  seed?: number;
}
/**
 * Forget a pick or a view; it can be taken back.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Forget".
 */
export interface Forget {
  key: string;
  kind: "forget";
  what: "pick_set" | "view";
}
/**
 * Keep a pick under a name, in place of the one that had the name before.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "KeepPick".
 */
export interface KeepPick {
  kind: "keep_pick";
  name: string;
  pick: Pick;
}
/**
 * Keep where the eye stands under a name. picture: a small JPEG in base64, of what it sees.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "KeepView".
 */
export interface KeepView {
  clip?: ClipSent | null;
  height_mm: number | null;
  kind: "keep_view";
  light?: SavedLightSent | null;
  name: string;
  picture?: string | null;
  position_mm: Triple;
  target_mm: Triple;
  up: Triple;
}
/**
 * The light of a view. sun_deg: where the sun stands, counter-clockwise from the model's x axis; up_deg: how high.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SavedLightSent".
 */
export interface SavedLightSent {
  overcast?: boolean;
  sun_deg: number;
  up_deg: number;
}
/**
 * Bring back a view or a pick that was forgotten.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TakeBack".
 */
export interface TakeBack {
  key: string;
  kind: "take_back";
  what: "pick_set" | "view";
}
/**
 * Where the view's eye stands; matrix: column by column, from the view's coordinates to clip space.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "EyeSent".
 */
export interface EyeSent {
  clip?: ClipSent | null;
  hidden?: Pick | null;
  matrix: number[];
  size: [number, number];
}
/**
 * The figures of one face; finish and what follows are None where it is bare.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FaceFigures".
 */
export interface FaceFigures {
  area_m2: number;
  face: number;
  finish: string | null;
  greatest_stretch: number | null;
  kind: ("true" | "bare" | "smeared" | "mirrored") | null;
  least_stretch: number | null;
  name: string | null;
  part: string;
}
/**
 * The faces behind a figure: of one finish, of all of them, or the bare ones. row: of which adjustment.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FigurePicked".
 */
export interface FigurePicked {
  figure: FigureName;
  finish?: string | null;
  row?: number | null;
}
/**
 * What is measured of every finish, by its code.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FiguresByFinish".
 */
export interface FiguresByFinish {
  [k: string]: Figures;
}
/**
 * What is measured of a finish.
 *
 * joints_m: of edges at which the images differ, but the joints of both sides meet. closings: the scales along that
 * whole repeats asked for.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Figures".
 */
export interface Figures {
  closings: number[];
  greatest_stretch: number;
  joints_m: number;
  laying_key: string;
  least_stretch: number;
  mirrored_m2: number;
  seams_m: number;
  smeared_m2: number;
  true_share: number;
  worst_gap_mm: number;
}
/**
 * A row of the schedule.
 *
 * pick_words: the pick in words; it stays on the server, for it may name a hundred thousand faces. datum: None
 * where each part or board has its own. one_sheet: whether one turn and one offset serve all of its faces.
 * faces: those that it is laid on, under a single sheet too. held: whether its pick holds any face at all, covered
 * by later rows or not. failed: whether nothing of it can be laid; troubles: why that is, or why some
 * of its faces lie bare. on: false where the row is switched off. area_m2: what shows of it. over: the sheets of its coats
 * and of their masks. tones_key: of the tones of its faces, None where they have one. lines_key: of the lines that masks
 * are near to, None where there are none.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Finish".
 */
export interface Finish {
  adjust: Adjustment[];
  area_m2: number;
  bump: number;
  cells: Cells | null;
  coats: Coat[];
  datum: Datum | null;
  datum_for: "pick" | "part" | "board" | "side";
  faces: number;
  failed: boolean;
  grain: GrainRule;
  grain_deg: number | null;
  held: boolean;
  key: string;
  laying_key: string;
  lightness: number;
  lines_key: string | null;
  material: string;
  name: string;
  offset_mm: Pair;
  on: boolean;
  one_sheet: boolean;
  over: OverState[];
  pick_words: string;
  projection: Projection;
  raw_key: string | null;
  repeat_mm: Pair;
  roughness: number;
  run_on: boolean;
  scale: Pair;
  spread: Spread | null;
  tie: Tie[];
  tie_by: "move" | "turn" | "scale" | "skew";
  tile: boolean;
  tint: string | null;
  toned: TonedFaces[];
  tones_key: string | null;
  troubles: string;
  turn_deg: number;
  variation: Variation | null;
}
/**
 * What the grain follows; the finish's turn_deg counts from there.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "GrainRule".
 */
export interface GrainRule {
  along: Along;
  direction: Triple | null;
}
/**
 * A sheet of a coat or of a mask, in the order in which they are stated.
 *
 * laying_key: of one with a laying of its own, None for one that lies as the finish beneath it, or is triplanar.
 * datum: what a triplanar one measures from.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "OverState".
 */
export interface OverState {
  datum: Datum | null;
  laying_key: string | null;
}
/**
 * How much lighter or darker each part, board, unit of the material or random cell may be, as a share.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Spread".
 */
export interface Spread {
  by: "part" | "board" | "unit" | "cell";
  lightness: number;
  seed: number;
}
/**
 * Faces of a finish that look otherwise than the rest; words: which.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TonedFaces".
 */
export interface TonedFaces {
  bump: number;
  lightness: number;
  pick: Pick;
  roughness: number;
  tint: string | null;
  words: string;
}
/**
 * Each part, board, patch or face takes its own piece of the sheet.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Variation".
 */
export interface Variation {
  by: By;
  half_turns: boolean;
  mirrors: boolean;
  seed: number;
}
/**
 * The pieces of a finish, in the order of their numbers.
 *
 * overlap_m2: what of the sheet is taken more than once. avoid_mm: the areas to avoid within the first repeat, in mm of
 * the model; touching: the pieces that lie on one. bare_faces, bare_m2: what is bare of the parts that the finish lies on.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FlatHeader".
 */
export interface FlatHeader {
  avoid_mm: [number, number, number, number][];
  bare_faces: number;
  bare_m2: number;
  overlap_m2: number;
  pieces: FlatPiece[];
  touching: number[];
}
/**
 * A piece of a finish on the sheet.
 *
 * face: the first of its faces. size: how long it lies for its true length, by its area. box_mm: least s and t,
 * greatest s and t.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FlatPiece".
 */
export interface FlatPiece {
  area_m2: number;
  box_mm: [number, number, number, number];
  face: number;
  faces: number;
  size: number;
}
/**
 * How a picture of the flat view is drawn.
 *
 * per_m: pixels per m; without it by the pixels of its longest side. bleed_mm: how far the sheet shows beyond the
 * pieces. shows: on the pieces. square_mm: of the checker.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FlatPicture".
 */
export interface FlatPicture {
  bleed_mm?: number | string;
  longest?: number | null;
  outlines?: boolean;
  per_m?: number | null;
  shows?: "material" | "checker" | "plain";
  square_mm?: number;
}
/**
 * What an opening view shows: parts by number, those that carry finishes, or all where none does.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Framed".
 */
export interface Framed {
  parts: number[];
}
/**
 * The names of the parts, and how many UV sets there are.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "GeometryHeader".
 */
export interface GeometryHeader {
  parts: string[];
  uv_sets: number;
}
/**
 * The lines of a mask in the texels of a packet, each of four numbers.
 *
 * origin: of the grid, mm from the view's origin. cells: the first texel of the cells, each with where its rows begin and
 * how many they are. rows: the first texel of the rows, four lines a texel. lines: the first texel of the lines, three a
 * line: an end and its radius, the other end, and the side of the surface it lies on.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "GridState".
 */
export interface GridState {
  cell_mm: number;
  cells: number;
  counts: [number, number, number];
  lines: number;
  origin: Triple;
  rows: number;
  soft_mm: number;
}
/**
 * An import on its way. error: why it failed.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ImportState".
 */
export interface ImportState {
  doing: string;
  error: string | null;
  file: string;
  share: number;
  state: "working" | "ready" | "failed" | "stopped";
}
/**
 * The faces of an item of the list.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ItemFaces".
 */
export interface ItemFaces {
  faces: number[];
}
/**
 * Where a material's units meet: from joint to joint, how wide, where they cross, and the bond.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "JointsSent".
 */
export interface JointsSent {
  at_mm?: Pair;
  bond?: number;
  unit_mm: [number | null, number | null];
  width_mm?: number;
}
/**
 * Where a material's units meet: from joint to joint, how wide, where they cross, and the bond.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Joints".
 */
export interface Joints {
  at_mm: Pair;
  bond: number;
  unit_mm: [number | null, number | null];
  width_mm: number;
}
/**
 * Kept coats as they would lie over a finish.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "KeptCoats".
 */
export interface KeptCoats {
  coats: Coat[];
}
/**
 * A file of the model, as it came in.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "KeptFile".
 */
export interface KeptFile {
  bytes: number;
  name: string;
}
/**
 * A material of the library. said: what was noticed as it came in.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "LibraryMaterial".
 */
export interface LibraryMaterial {
  avoid_mm: [number, number, number, number][];
  estimated: boolean;
  grain_deg: number | null;
  half_turns: boolean;
  images: {
    base_color?: string;
    height?: string;
    metallic?: string;
    normal?: string;
    occlusion?: string;
    roughness?: string;
  };
  joints: Joints | null;
  key: string;
  made_from: string | null;
  metallic: number;
  mirrors: boolean;
  name: string;
  normal_y: "+" | "-";
  own: boolean;
  repeat_mm: Pair;
  said: string[];
  tags: string[];
  use: string | "";
  used_in: UsedIn[];
}
/**
 * A project that uses a material.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "UsedIn".
 */
export interface UsedIn {
  id: number;
  name: string;
}
/**
 * What lies on some faces. finish: its code, None where they are bare.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "LiesThere".
 */
export interface LiesThere {
  area_m2: number;
  faces: number;
  finish: string | null;
}
/**
 * The light of a view. sun_deg: where the sun stands, counter-clockwise from the model's x axis; up_deg: how high.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SavedLight".
 */
export interface SavedLight {
  overcast: boolean;
  sun_deg: number;
  up_deg: number;
}
/**
 * The grids of a finish's masks, in the order in which they are stated, each once.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "LinesHeader".
 */
export interface LinesHeader {
  grids: GridState[];
}
/**
 * What of a material of the library is changed; what is left out stays.
 *
 * channels: where the image of a channel belongs, or None to put it away.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "MaterialChange".
 */
export interface MaterialChange {
  channels?: {
    base_color?: Channel | null;
    height?: Channel | null;
    metallic?: Channel | null;
    normal?: Channel | null;
    occlusion?: Channel | null;
    roughness?: Channel | null;
  } | null;
  grain_deg?: number | string | "none" | null;
  half_turns?: boolean | null;
  joints?: JointsSent | "none" | null;
  linked?: boolean;
  metallic?: number | null;
  mirrors?: boolean | null;
  name?: string | null;
  normal_y?: ("+" | "-") | null;
  repeat_mm?: [number | string | null, number | string | null] | null;
  tags?: string[] | null;
}
/**
 * A material of the project.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Material".
 */
export interface Material {
  avoid_mm: [number, number, number, number][];
  estimated: boolean;
  grain_deg: number | null;
  half_turns: boolean;
  images: {
    base_color?: string;
    height?: string;
    metallic?: string;
    normal?: string;
    occlusion?: string;
    roughness?: string;
  };
  joints: Joints | null;
  key: string;
  metallic: number;
  mirrors: boolean;
  name: string;
  normal_y: "+" | "-";
  repeat_mm: Pair;
  tags: string[];
}
/**
 * How the numbers of a file are meant; what is left out is guessed.
 *
 * size_mm: about how large the largest side is, where that is known: the unit is then guessed by it.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ModelReading".
 */
export interface ModelReading {
  size_mm?: number | null;
  unit?: Unit | null;
  up?: Upward | null;
}
/**
 * The model. revised: whether it took the place of an older one. shift_mm: how far the artist put it.
 *
 * exact, elements, storeys: what its file states, for picking by it. note: what to try with it, in a demo.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Model".
 */
export interface Model {
  area_m2: number;
  bounds_mm: [Triple, Triple];
  checker_mm: number;
  elements: boolean;
  exact: boolean;
  faces: number;
  file: string;
  files: KeptFile[];
  found: string[];
  mesh: string;
  note: string | null;
  parts: number;
  placed: boolean;
  revised: boolean;
  shift_mm: Triple;
  sources: SourceMaterial[];
  storeys: boolean;
  tolerance_mm: number | null;
  triangles: number;
  unit: Unit;
  up: Upward;
  uv_sets: number;
  view_origin_mm: Triple;
}
/**
 * A material that the model brought; colors are linear.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SourceMaterial".
 */
export interface SourceMaterial {
  alpha: "opaque" | "mask" | "blend";
  cutoff: number;
  emissive: Triple;
  metallic: number | null;
  name: string;
  rgba: [number, number, number, number];
  roughness: number | null;
  textures: {
    [k: string]: SourceTexture;
  };
}
/**
 * An image that the model brought for a channel; offset, scale and turn as in KHR_texture_transform.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SourceTexture".
 */
export interface SourceTexture {
  factor: number;
  image: string;
  offset: Pair;
  scale: Pair;
  turn: number;
  uv_set: number;
  wrap: ["repeat" | "clamp" | "mirror", "repeat" | "clamp" | "mirror"];
}
/**
 * The number in mm, degrees or as a factor.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "NumberRead".
 */
export interface NumberRead {
  value: number;
}
/**
 * A format that models come in. missing: what has to be installed before one of it can be read, in a sentence.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "OpenedFormat".
 */
export interface OpenedFormat {
  missing: string | null;
  name: string;
}
/**
 * A project made of an import, with the faults mended that are named.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Opening".
 */
export interface Opening {
  mend?: string[];
  name?: string | null;
  size_mm?: number | null;
  unit?: Unit | null;
  up?: Upward | null;
}
/**
 * What is still wrong, what no file can hold as the view shows it, and how large the model is.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Overview".
 */
export interface Overview {
  notes: string[];
  problems: Problem[];
  triangles: number;
}
/**
 * What an artist would want to know before handing over; finish: None where it concerns what has none.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Problem".
 */
export interface Problem {
  amount: number;
  finish: string | null;
  fix: string;
  text: string;
  unit: string;
  what: "bare" | "smeared" | "mirrored" | "seams" | "covered" | "unsolved" | "untrue" | "off";
}
/**
 * A painted picture that came back: its material, and the place of its lower left corner in mm of the sheet.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PaintedPicture".
 */
export interface PaintedPicture {
  low_mm: Pair;
  material: string;
  said: string;
}
/**
 * What has one name. stated: what else the file says of it. pick: the rule that takes all of it.
 *
 * first_face: one of its faces. parts: how many there are of the name.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PartGroup".
 */
export interface PartGroup {
  area_m2: number;
  faces: number;
  first_face: number;
  lies: LiesThere[];
  name: string;
  parts: number;
  pick: Pick;
  stated: string;
}
/**
 * How pieces are cut out.
 *
 * width_mm, height_mm: of the boards that they are nested on; without both they are drawn as they lie. turns: how pieces
 * may be turned there. each: a file for each board.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PatternAsked".
 */
export interface PatternAsked {
  each?: boolean;
  gap_mm?: number | string;
  height_mm?: number | string | null;
  margin_mm?: number | string;
  turns?: "none" | "half" | "quarter";
  width_mm?: number | string | null;
}
/**
 * How the pick in hand changes. Some ways need nothing beside them.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PickRequest".
 */
export interface PickRequest {
  base?: Pick | null;
  clicked?: Clicked | null;
  figure?: FigurePicked | null;
  how: Way;
  pick?: Pick | null;
  region?: Region | null;
}
/**
 * An outline over the view in pixels. through: behind other faces too; whole: faces wholly within.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Region".
 */
export interface Region {
  crease_deg?: number;
  eye: EyeSent;
  level?: "face" | "patch" | "part";
  outline: Pair[];
  through?: boolean;
  whole?: boolean;
}
/**
 * A pick with a name.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PickSet".
 */
export interface PickSet {
  key: string;
  name: string;
  pick: Pick;
  words: string;
}
/**
 * The pick after a change: as a rule, in words, with its figures.
 *
 * mask: base64 of one bit a face, lowest first. lies: the finishes that a click on it meets, the largest first.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Picked".
 */
export interface Picked {
  area_m2: number;
  faces: number;
  lies: LiesThere[];
  mask: string;
  parts: number;
  pick: Pick;
  words: string;
}
/**
 * How a sheet lies on the raw laying.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Placement".
 */
export interface Placement {
  offset_mm: Pair;
  scale: Pair;
  turn_deg: number;
}
/**
 * What of a finish is being dragged; the rest stays.
 *
 * placed: the turn, offset and scale by which its corners are asked for, where these are not its own.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Preview".
 */
export interface Preview {
  datum?: DatumSent | null;
  placed?: Placement | null;
  projection?: ProjectionSent | null;
}
/**
 * A project in the list.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ProjectCard".
 */
export interface ProjectCard {
  demo: string | null;
  file: string;
  finishes: number;
  id: number;
  name: string;
  parts: number;
  revision: number;
  triangles: number;
  used_at: string;
}
/**
 * What an edit, undo or redo made of a project as it was at the revision `since`; null where it is as it was.
 *
 * As the header of a packet it comes with the arrays that the view will ask for next: bytes, each by its address under the
 * project's. finishes: the rows that are new or otherwise. order: the codes of all rows. The rest is as in `ProjectState`.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ProjectChange".
 */
export interface ProjectChange {
  aside: number;
  bare: Bare;
  cover_key: string;
  finishes: Finish[];
  materials: {
    [k: string]: Material;
  } | null;
  model: Model | null;
  name: string;
  order: string[] | null;
  pick_sets: PickSet[] | null;
  redo: string | null;
  revision: number;
  said: string | null;
  since: number;
  undo: string | null;
  views: SavedView[] | null;
}
/**
 * A saved view, in the model's own coordinates.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SavedView".
 */
export interface SavedView {
  clip: Clip | null;
  height_mm: number | null;
  key: string;
  light: SavedLight | null;
  name: string;
  picture: string | null;
  position_mm: Triple;
  target_mm: Triple;
  up: Triple;
}
/**
 * A project. aside: counts the changes of views and kept picks, which are no edits.
 *
 * undo, redo: what they would do. said: what the artist should know of the edit that this answers.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Project".
 */
export interface Project {
  aside: number;
  bare: Bare;
  cover_key: string;
  demo: string | null;
  finishes: Finish[];
  id: number;
  materials: {
    [k: string]: Material;
  };
  model: Model;
  name: string;
  pick_sets: PickSet[];
  redo: string | null;
  revision: number;
  said: string | null;
  undo: string | null;
  views: SavedView[];
}
/**
 * Which state a project is in, for pages that follow each other.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Pulse".
 */
export interface Pulse {
  aside: number;
  revision: number;
}
/**
 * What is read off an image: its grain, and how much its borders show where it repeats.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Reading".
 */
export interface Reading {
  bits: number;
  confidence: number;
  grain_deg: number | null;
  pixels: [number, number];
  shows_from: number;
  wrap_along: number;
  wrap_up: number;
}
/**
 * A new name.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Renaming".
 */
export interface Renaming {
  name: string;
}
/**
 * Which import shall take the model's place, and the revision of the project that this is based on.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Revising".
 */
export interface Revising {
  import_id: number;
  mend?: string[];
  name?: string | null;
  revision: number;
  size_mm?: number | null;
  unit?: Unit | null;
  up?: Upward | null;
}
/**
 * Faces of one part with one fate when a newer model took the place of another.
 *
 * finish, was: those that cover them now and covered them before; None where they are bare. asks: whether so much
 * of a finish is gone that the artist is asked. open: whether it still waits for an answer.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "RevisionItem".
 */
export interface RevisionItem {
  area_m2: number;
  asks: boolean;
  confidence: number;
  faces: number;
  finish: string | null;
  former: string | null;
  open: boolean;
  part: string;
  was: string | null;
  what: "kept" | "moved" | "new" | "gone" | "doubtful";
}
/**
 * How well a pick fits a true cylinder, cone or sphere. share: of its area, how much lies on the shape.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Roundness".
 */
export interface Roundness {
  datum: Datum;
  half_angle_deg: number;
  radius_mm: number | null;
  residual_mm: number | null;
  share: number;
}
/**
 * Where the pattern breaks within finishes, beside the lines. worst_at: from the view's origin.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SeamsHeader".
 */
export interface SeamsHeader {
  joints_m: number;
  length_m: number;
  worst_at: Triple | null;
  worst_gap_mm: number;
}
/**
 * Finishes whose layings are asked for at once, by their codes.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SeveralLayings".
 */
export interface SeveralLayings {
  finishes: string[];
}
/**
 * What a source material covers, and how large its image is there; None where its UVs do not tell.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SourceUse".
 */
export interface SourceUse {
  area_m2: number;
  bare_m2: number;
  faces: number;
  repeat_mm: Pair | null;
  true_share: number | null;
}
/**
 * How far apart the strokes of the grain are.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StrokesHeader".
 */
export interface StrokesHeader {
  spacing_mm: number;
}
/**
 * A tape laid over the model, and what of a pattern lies under it; None where nothing is laid there.
 *
 * repeats: of the material, along and up. units: the same in bricks, tiles or boards, where it has them.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TapeRead".
 */
export interface TapeRead {
  along_mm: number | null;
  finish: string | null;
  length_mm: number;
  name: string | null;
  over_surface: boolean;
  points_mm: Triple[];
  repeats: Pair | null;
  straight_mm: number;
  units: [number | null, number | null] | null;
  up_mm: number | null;
}
/**
 * The two ends of a tape.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TapeRequest".
 */
export interface TapeRequest {
  a: OnFace;
  b: OnFace;
}
/**
 * What is measured of the whole schedule.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Totals".
 */
export interface Totals {
  area_m2: number;
  bare_faces: number;
  bare_m2: number;
  finishes: number;
  mirrored_m2: number;
  seams_m: number;
  smeared_m2: number;
}
/**
 * One projection fitted to the pick, and how it came out. share: of the pick, what the fitted shape serves.
 *
 * alike: other projections that come out the same.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Trial".
 */
export interface Trial {
  alike: Projection[];
  area_m2: number;
  datum: Datum | null;
  good: number;
  joints_m: number;
  mirrored_m2: number;
  projection: Projection;
  residual_mm: number | null;
  seams_m: number;
  share: number;
  smeared_m2: number;
  true_share: number;
  why: string;
}
/**
 * A material on a pick, or the finish whose projection is in question.
 *
 * called: a name of the asker's own, by which it can ask how far the trials are.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TrialRequest".
 */
export interface TrialRequest {
  aim?: Aim;
  called?: string | null;
  finish?: string | null;
  material?: string | null;
  pick?: Pick | null;
}
/**
 * The trials, best first. good: how much has to read right to be recommended. advice: what would serve better.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TrialsHeader".
 */
export interface TrialsHeader {
  advice: string | null;
  good: number;
  trials: Trial[];
}
/**
 * Which projection is being tried, and how much of the trials is over (0 to 1); None before they begin.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TrialsUnderWay".
 */
export interface TrialsUnderWay {
  projection: Projection | null;
  share: number;
}
/**
 * A number as typed, and what it stands for.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TypedNumber".
 */
export interface TypedNumber {
  kind: "length" | "angle" | "share";
  text: string;
}
/**
 * How much of a pick does not show.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "UnseenFaces".
 */
export interface UnseenFaces {
  area_m2: number;
  faces: number;
}
/**
 * A pick, and from where it is looked at.
 *
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "UnseenRequest".
 */
export interface UnseenRequest {
  eye: EyeSent;
  pick: Pick;
}
