/** What drawings over the model are made of: strokes, written sizes, and grips. */

import type { PointerEvent as ReactPointerEvent } from "react";

import type { Pair } from "../api/wire.gen";

const STROKES = {
  line: "stroke-ink",
  faint: "stroke-ink/60 [stroke-dasharray:2_4]",
  seam: "stroke-wrong [stroke-dasharray:9_4]",
  axis: "stroke-hand",
  sheet: "stroke-hand",
  grain: "stroke-ink",
} as const;

/** A thin line with a paler one under it, so that it reads on any material. */
export function Stroke({ d, look }: { d: string; look: keyof typeof STROKES }) {
  if (!d) return null;
  const strong = look === "sheet" || look === "axis" || look === "seam" || look === "grain";
  return (
    <g fill="none" strokeLinejoin="round">
      <path d={d} className="stroke-sheet/75" strokeWidth={strong ? 4.5 : 3.5} />
      <path d={d} className={STROKES[look]} strokeWidth={strong ? 2 : 1.2} />
    </g>
  );
}

export function LabelText({ at, text }: { at: Pair; text: string }) {
  return (
    <text
      x={at[0]}
      y={at[1]}
      textAnchor="middle"
      dominantBaseline="central"
      className="figure fill-ink stroke-sheet [paint-order:stroke]"
      strokeWidth={4}
      strokeLinejoin="round"
    >
      {text}
    </text>
  );
}

interface GripProps {
  shape: "origin" | "move" | "turn" | "size";
  at: Pair;
  label: string;
  testid: string;
  onDown: (event: ReactPointerEvent) => void;
}

/** Something to take hold of; larger for the hand than for the eye. */
export function Grip({ shape, at, label, testid, onDown }: GripProps) {
  return (
    <g
      transform={`translate(${at[0].toFixed(1)} ${at[1].toFixed(1)})`}
      className="group pointer-events-auto cursor-grab active:cursor-grabbing"
      role="button"
      aria-label={label}
      data-testid={testid}
      onPointerDown={onDown}
    >
      <title>{label}</title>
      <circle r={12} fill="transparent" />
      {shape === "origin" && (
        <circle r={6.5} className="fill-hand stroke-sheet group-hover:fill-ink" strokeWidth={2.5} />
      )}
      {shape === "move" && (
        <rect
          x={-4.5}
          y={-4.5}
          width={9}
          height={9}
          className="fill-sheet stroke-hand group-hover:fill-hand"
          strokeWidth={2}
        />
      )}
      {shape === "turn" && (
        <path d="M0-6.5L6.5 0L0 6.5L-6.5 0Z" className="fill-sheet stroke-hand group-hover:fill-hand" strokeWidth={2} />
      )}
      {shape === "size" && (
        <path d="M-2.5-6H2.5V6H-2.5Z" className="fill-sheet stroke-hand group-hover:fill-hand" strokeWidth={2} />
      )}
    </g>
  );
}
