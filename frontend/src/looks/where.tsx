import { put } from "../state";
import { useDesk } from "../state/desk";
import { Choice } from "../ui/Choice";
import { Box } from "./legend";
import type { LookModule } from "./look";
import type { Project } from "../api/wire.gen";

/** Which coat is shown; where none is open, what to do about it. */
function Legend({ project }: { project: Project }) {
  const coat = useDesk((s) => s.coat);
  const rows = useDesk((s) => s.rows);
  const finish = project.finishes.find((f) => f.key === (coat?.finish ?? rows[0]));
  if (!finish?.coats.length) {
    return (
      <Box>
        <span>Choose a finish that has coats, and open one of them.</span>
      </Box>
    );
  }
  return (
    <Box>
      <span className="label">where it lies</span>
      <Choice
        label="Coat"
        value={coat?.finish === finish.key ? String(coat.row) : ""}
        onChange={(row) => put({ rows: [finish.key], coat: { finish: finish.key, row: Number(row) } })}
        options={finish.coats.map(({ name }, row) => ({ value: String(row), text: name }))}
      />
    </Box>
  );
}

/** How much of one coat lies at every point: none of it pale, all of it dark. */
export const where: LookModule = {
  text: "Where",
  hint: "How much of a coat lies where",
  key: "A",
  aside: true,
  draws: "pattern",
  paint: { images: "mask", lit: false },
  brings: false,
  Legend,
};
