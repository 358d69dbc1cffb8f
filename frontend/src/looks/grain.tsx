import type { Project } from "../api/wire.gen";
import { put } from "../state";
import { useLook } from "../state/look";
import { plain } from "../ui/numbers";
import { Box, ColorKey, Steps } from "./legend";
import { PLAIN_PAINT, type LookModule } from "./look";
import { otherStep } from "./steps";
import { useStrokes } from "./useStrokes";

const INK = "#155e57";

function Legend({ project }: { project: Project }) {
  const { data: strokes } = useStrokes(project, "grain");
  const wanted = useLook((s) => s.spacingMm);
  const spacing = strokes?.spacing_mm;
  return (
    <Box>
      <ColorKey color={INK} />
      {spacing ? `strokes every ${plain(spacing)} mm` : "strokes along the grain"}
      {spacing && (
        <Steps
          less="Denser strokes"
          more="Sparser strokes"
          onStep={(up) => put({ spacingMm: otherStep(wanted ?? spacing, up) })}
        />
      )}
    </Box>
  );
}

/** Strokes along the grain. */
export const grain: LookModule = {
  text: "Grain",
  hint: "Strokes along the grain",
  key: "G",
  draws: "plain",
  paint: PLAIN_PAINT,
  brings: false,
  strokes: { color: INK, width: 1.6, which: "grain" },
  Legend,
};
