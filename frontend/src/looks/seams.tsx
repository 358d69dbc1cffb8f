import { Vector3 } from "three";

import type { Project, Triple } from "../api/wire.gen";
import { pixelOf, useEye } from "../model/eye";
import { mm } from "../ui/numbers";
import { Box, ColorKey } from "./legend";
import { PLAIN_PAINT, type LookModule } from "./look";
import { JOINTS } from "./lines";
import { useStrokes } from "./useStrokes";

const INK = "#c8431f";

function Legend({ project }: { project: Project }) {
  const { data: strokes } = useStrokes(project, "seams");
  const joints = strokes?.joints_m ?? 0;
  return (
    <>
      <Box>
        <ColorKey color={INK} />
        {strokes?.length_m
          ? `${strokes.length_m.toFixed(2)} m of open seams, worst gap ${mm(strokes.worst_gap_mm ?? 0)} mm`
          : "no open seams"}
        {joints > 0.0005 && (
          <>
            <ColorKey color={JOINTS} />
            joints run on at {joints.toFixed(2)} m
          </>
        )}
      </Box>
      {strokes?.worst_at && <Worst at={strokes.worst_at} gap={strokes.worst_gap_mm ?? 0} />}
    </>
  );
}

/** Where the worst gap is. */
function Worst({ at, gap }: { at: Triple; gap: number }) {
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

/** Edges across which the pattern does not run on. */
export const seams: LookModule = {
  text: "Seams",
  hint: "Edges across which the pattern does not run on",
  key: "E",
  draws: "plain",
  paint: PLAIN_PAINT,
  brings: false,
  strokes: { color: INK, width: 2.5, which: "seams" },
  Legend,
};
