/** Every kind of mask on the screen: its words, and the numbers that it is stated in. A new one is an entry. */

import type { Mask } from "../api/wire.gen";

export type MaskKind =
  | "fade" | "fade_round" | "fade_about" | "band" | "facing" | "seams" | "edges" | "strokes" | "image" | "noise"; // prettier-ignore

export interface MaskField {
  /** The keys to it within the mask; with `at`, one number of a list. */
  key: string;
  at?: number;
  label: string;
  /** How it is typed; a place is three lengths, a direction one of six or as it is. */
  as:
    | "mm"
    | "°"
    | "share"
    | "whole"
    | "place"
    | "direction"
    | "channel"
    | { value: string; text: string; hint?: string }[];
  /** On the line of the field before it. */
  beside?: boolean;
}

export interface MaskPanel {
  text: string;
  hint: string;
  fields: MaskField[];
}

const EASE: MaskField = {
  key: "ease",
  label: "Runs",
  as: [
    { value: "linear", text: "Evenly", hint: "By the distance" },
    { value: "smooth", text: "Softly", hint: "Slow at both ends" },
  ],
};

const RADII: MaskField[] = [
  { key: "radii_mm", at: 0, label: "Nothing at", as: "mm" },
  { key: "radii_mm", at: 1, label: "Whole at", as: "mm" },
];

const REACH: MaskField[] = [
  { key: "within_mm", label: "Within", as: "mm" },
  { key: "soft_mm", label: "Fades over", as: "mm" },
];

const LIMITS: MaskField[] = [
  { key: "low", label: "Nothing at", as: "share" },
  { key: "high", label: "Whole at", as: "share" },
];

export const MASK_PANELS: Record<MaskKind, MaskPanel> = {
  fade: {
    text: "Fade",
    hint: "From nothing at one place to the whole at another",
    fields: [
      { key: "from_mm", label: "Nothing at", as: "place" },
      { key: "to_mm", label: "Whole at", as: "place" },
      EASE,
    ],
  },
  fade_round: {
    text: "Round a place",
    hint: "By the distance from a place",
    fields: [{ key: "centre_mm", label: "Centre", as: "place" }, ...RADII, EASE],
  },
  fade_about: {
    text: "About an axis",
    hint: "By the distance from an axis",
    fields: [
      { key: "origin_mm", label: "Through", as: "place" },
      { key: "axis", label: "Along", as: "direction" },
      ...RADII,
      EASE,
    ],
  },
  band: {
    text: "Band",
    hint: "Between two heights, or two places along another direction",
    fields: [
      { key: "from_mm", label: "From", as: "mm" },
      { key: "to_mm", label: "To", as: "mm" },
      { key: "soft_mm", label: "Fades over", as: "mm" },
      { key: "direction", label: "Along", as: "direction" },
    ],
  },
  facing: {
    text: "Facing",
    hint: "Where the surface looks one way: moss and snow from above, dust",
    fields: [
      { key: "direction", label: "Towards", as: "direction" },
      { key: "within_deg", label: "Within", as: "°" },
      { key: "soft_deg", label: "Fades over", as: "°" },
    ],
  },
  seams: { text: "Open seams", hint: "Near the edges at which the pattern beneath breaks", fields: REACH },
  edges: {
    text: "Edges",
    hint: "Near the edges of the model: worn ones outward, dirt in the inner ones",
    fields: [
      {
        key: "kind",
        label: "Which",
        as: [
          { value: "convex", text: "Outer", hint: "As at the outside of a box" },
          { value: "concave", text: "Inner", hint: "As where a wall meets the floor" },
          { value: "both", text: "Both" },
        ],
      },
      { key: "angle_deg", label: "Turning by", as: "°" },
      ...REACH,
    ],
  },
  strokes: {
    text: "Brush",
    hint: "Where strokes were drawn on the model",
    fields: [{ key: "soft_mm", label: "Fades over", as: "mm" }],
  },
  image: {
    text: "Image",
    hint: "By a channel of a material",
    fields: [{ key: "channel", label: "Channel", as: "channel" }, ...LIMITS],
  },
  noise: {
    text: "Patches",
    hint: "Irregular patches of a size: dirt here and there",
    fields: [
      { key: "size_mm", label: "Size", as: "mm" },
      ...LIMITS,
      { key: "octaves", label: "Finer", as: "whole" },
      { key: "seed", label: "Seed", as: "whole" },
    ],
  },
};

/** A mask's kind, and what it states. */
export function statedBy(mask: Mask): { kind: string; stated: Record<string, unknown> } {
  const [kind, stated] = Object.entries(mask)[0]!;
  return { kind, stated: stated as Record<string, unknown> };
}

/** What combines masks is none of those that state where something lies. */
export const isSimple = (kind: string): kind is MaskKind => kind in MASK_PANELS;
