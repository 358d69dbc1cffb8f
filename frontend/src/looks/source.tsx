import type { Project } from "../api/wire.gen";
import { put } from "../state";
import { Button } from "../ui/Button";
import { counted } from "../ui/numbers";
import { Box } from "./legend";
import { PLAIN_PAINT, type LookModule } from "./look";

function Legend({ project }: { project: Project }) {
  const { sources, uv_sets } = project.model;
  const images = new Set(sources.flatMap((s) => Object.values(s.textures).map((t) => t.image)));
  return (
    <Box>
      {sources.length
        ? `as the model came: ${counted(sources.length, "material")}, ${counted(images.size, "image")}, ${counted(uv_sets, "UV set")}`
        : "the model came without materials"}
      {sources.length > 0 && (
        <Button look="quiet" onClick={() => put({ sourcesShown: true })}>
          List them
        </Button>
      )}
    </Box>
  );
}

/** The materials and images that the model brought, whatever is laid on them. */
export const source: LookModule = {
  text: "As it came",
  hint: "The materials and images that the model brought, whatever is laid on them",
  key: "P",
  draws: "source",
  paint: PLAIN_PAINT,
  brings: true,
  Legend,
};
