import type { ReactNode } from "react";

import type { Project } from "../api/types";
import { CHANNELS } from "../materials/channels";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { area, counted, mm, plain } from "../ui/numbers";
import { useStrokes } from "../view/lookData";
import { JOINTS } from "../view/Strokes";
import { FAULTS, toneOf } from "../view/tones";
import { pixelOf, useEye } from "../view/eye";
import { Vector3 } from "three";
import { otherStep } from "./steps";
import { useWorkbench } from "./store";

/** What the look in hand means, with its figures. */
export function Legend({ project }: { project: Project }) {
  const { look, squareMm, spacingMm, channel, set } = useWorkbench();
  const { data: strokes } = useStrokes(project, look === "seams" || look === "grain" ? look : null);
  switch (look) {
    case "checker": {
      const square = squareMm ?? project.model.checker_mm;
      return (
        <Box>
          squares of {plain(square)} mm
          <Steps less="Smaller squares" more="Larger squares" onStep={(up) => set({ squareMm: otherStep(square, up) })} />
        </Box>
      );
    }
    case "channel":
      return (
        <Box>
          <span className="label">channel</span>
          <Choice label="Channel" value={channel} onChange={(value) => set({ channel: value })} options={CHANNELS.map(({ channel: value, text }) => ({ value, text }))} />
        </Box>
      );
    case "stretch":
      return <StretchScale />;
    case "seams":
      return (
        <>
          <Box>
            <Key color="#c8431f" />
            {strokes?.length_m ? `${strokes.length_m.toFixed(2)} m of open seams, worst gap ${mm(strokes.worst_gap_mm ?? 0)} mm` : "no open seams"}
            {(strokes?.joints_m ?? 0) > 0.0005 && (
              <>
                <Key color={JOINTS} />
                joints run on at {strokes?.joints_m?.toFixed(2)} m
              </>
            )}
          </Box>
          {strokes?.worst_at && <Worst at={strokes.worst_at} gap={strokes.worst_gap_mm ?? 0} />}
        </>
      );
    case "grain": {
      const spacing = strokes?.spacing_mm;
      return (
        <Box>
          <Key color="#155e57" />
          {spacing ? `strokes every ${plain(spacing)} mm` : "strokes along the grain"}
          {spacing && <Steps less="Denser strokes" more="Sparser strokes" onStep={(up) => set({ spacingMm: otherStep(spacingMm ?? spacing, up) })} />}
        </Box>
      );
    }
    case "source": {
      const { sources, uv_sets } = project.model;
      const images = new Set(sources.flatMap((s) => Object.values(s.textures).map((t) => t?.image)));
      return (
        <Box>
          {sources.length
            ? `as the model came: ${counted(sources.length, "material")}, ${counted(images.size, "image")}, ${counted(uv_sets, "UV set")}`
            : "the model came without materials"}
          {sources.length > 0 && (
            <Button look="quiet" onClick={() => set({ sourcesShown: true })}>
              List them
            </Button>
          )}
        </Box>
      );
    }
    case "bare":
      return (
        <Box>
          {FAULTS.slice(1).map((fault) => (
            <span key={fault.text} className="flex items-center gap-1.5">
              <Key color={fault.color} />
              {fault.text}
              {fault.text === "bare" && ` ${area(project.bare.area_m2)}`}
            </span>
          ))}
        </Box>
      );
    default:
      return null;
  }
}

function Box({ children }: { children: ReactNode }) {
  return (
    <section
      aria-label="Legend"
      data-testid="legend"
      className="figure absolute bottom-14 left-2.5 flex items-center gap-3 border border-rule bg-paper/95 px-2.5 py-1"
    >
      {children}
    </section>
  );
}

function Key({ color }: { color: string }) {
  return <span aria-hidden className="inline-block size-3.5 border border-ink/40" style={{ background: color }} />;
}

function Steps({ less, more, onStep }: { less: string; more: string; onStep: (up: boolean) => void }) {
  return (
    <span className="flex">
      <Button look="quiet" tight aria-label={less} onClick={() => onStep(false)}>
        −
      </Button>
      <Button look="quiet" tight aria-label={more} onClick={() => onStep(true)}>
        +
      </Button>
    </span>
  );
}

const TICKS = [50, 70, 100, 140, 200];

/** How large the pattern shows, in per cent of its true size. */
function StretchScale() {
  const stops = Array.from({ length: 17 }, (_, k) => toneOf(2 ** (k / 8 - 1)));
  return (
    <Box>
      <span className="label">squeezed</span>
      <span>
        <span className="block h-3 w-64 border border-ink/40" style={{ background: `linear-gradient(90deg, ${stops.join(", ")})` }} />
        <span className="relative block h-4 w-64 text-[13.5px]">
          {TICKS.map((tick) => (
            <span key={tick} className="absolute -translate-x-1/2" style={{ left: `${(Math.log2(tick / 100) + 1) * 50}%` }}>
              {tick}
              {tick === 100 && " %"}
            </span>
          ))}
        </span>
      </span>
      <span className="label">stretched</span>
    </Box>
  );
}

/** Where the worst gap is. */
function Worst({ at, gap }: { at: [number, number, number]; gap: number }) {
  const eye = useEye();
  const { at: pixel, before } = pixelOf(eye, new Vector3(...at));
  if (!before) return null;
  return (
    <svg className="pointer-events-none absolute inset-0 h-full w-full">
      <circle cx={pixel[0]} cy={pixel[1]} r={11} className="fill-none stroke-sheet" strokeWidth={5} />
      <circle cx={pixel[0]} cy={pixel[1]} r={11} className="fill-none stroke-wrong" strokeWidth={2} />
      <text
        x={pixel[0] + 18}
        y={pixel[1]}
        dominantBaseline="central"
        className="figure fill-ink stroke-sheet [paint-order:stroke]"
        strokeWidth={4}
      >
        worst gap {mm(gap)} mm
      </text>
    </svg>
  );
}
