import { StrokeLines } from "./StrokeLines";
import { Troubles } from "./Troubles";
import type { LinesProps, ProjectionPanel } from "./panel";

function Lines({ finish, projection, measured, set }: LinesProps<"lines">) {
  return (
    <>
      <StrokeLines finish={finish} projection={projection} set={set} />
      {projection.lines.length === 0 && (
        <p className="mb-2 text-faint">Without a line it is flattened freely, level across.</p>
      )}
      <Troubles measured={measured} lead="Not laid: " />
    </>
  );
}

export const grainLines: ProjectionPanel<"lines"> = {
  text: "Lines",
  hint: "Follows lines that you draw on the surface: grain round a seat, veins along a road",
  start: { kind: "lines", lines: [], reach: 0.25 },
  byFace: true,
  round: false,
  hasDatum: false,
  fits: [],
  Lines,
};
