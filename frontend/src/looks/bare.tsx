import type { Project } from "../api/wire.gen";
import { area } from "../ui/numbers";
import { Box, ColorKey } from "./legend";
import { PLAIN_PAINT, type LookModule } from "./look";
import { FAULTS } from "./tones";

function Legend({ project }: { project: Project }) {
  return (
    <Box>
      {FAULTS.slice(1).map((fault) => (
        <span key={fault.text} className="flex items-center gap-1.5">
          <ColorKey color={fault.color} />
          {fault.text}
          {fault.text === "bare" && ` ${area(project.bare.area_m2)}`}
        </span>
      ))}
    </Box>
  );
}

/** Which faces have no finish, are smeared or mirrored. */
export const bare: LookModule = {
  text: "Bare",
  hint: "Which faces have no finish, are smeared or mirrored",
  key: "B",
  draws: "tone",
  paint: PLAIN_PAINT,
  brings: false,
  tone: ({ kind }) => FAULTS[kind]!.color,
  Legend,
};
