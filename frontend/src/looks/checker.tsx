import type { Project } from "../api/wire.gen";
import { put } from "../state";
import { useLook } from "../state/look";
import { plain } from "../ui/numbers";
import { Box, Steps } from "./legend";
import type { LookModule } from "./look";
import { otherStep } from "./steps";

function Legend({ project }: { project: Project }) {
  const square = useLook((s) => s.squareMm) ?? project.model.checker_mm;
  return (
    <Box>
      squares of {plain(square)} mm
      <Steps less="Smaller squares" more="Larger squares" onStep={(up) => put({ squareMm: otherStep(square, up) })} />
    </Box>
  );
}

/** Squares of a stated size, to judge scale and turn. */
export const checker: LookModule = {
  text: "Checker",
  hint: "Squares of a stated size, to judge scale and turn",
  key: "C",
  draws: "pattern",
  paint: { images: "checker", lit: true },
  brings: false,
  Legend,
};
