import { Choice } from "../ui/Choice";
import { Line } from "../ui/lines";
import { attempt } from "../ui/attempt";
import type { LinesProps, ProjectionPanel } from "./panel";

function Lines({ projection, set }: LinesProps<"planar">) {
  return (
    <Line label="Backs">
      <Choice
        label="Backs"
        value={projection.backs}
        onChange={(backs) => attempt(set({ backs }))}
        options={[
          { value: "through", text: "Through", hint: "Faces that look away are laid through, and so mirrored" },
          { value: "unmirrored", text: "Unmirrored", hint: "Faces that look away are laid the right way round" },
        ]}
      />
    </Line>
  );
}

export const planar: ProjectionPanel<"planar"> = {
  text: "Planar",
  hint: "One sheet pushed straight on: a single face, a gable, a floor",
  start: { kind: "planar", backs: "through" },
  byFace: true,
  round: false,
  hasDatum: true,
  fits: ["face", "view", "edge", "axes"],
  Lines,
};
