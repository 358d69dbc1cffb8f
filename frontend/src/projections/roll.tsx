import { put } from "../state";
import { attempt } from "../ui/attempt";
import { Button } from "../ui/Button";
import { Check, Line } from "../ui/lines";
import { MeasuredMark } from "./MeasuredMark";
import type { LinesProps, ProjectionPanel } from "./panel";

function Lines({ finish, projection, set }: LinesProps<"roll">) {
  return (
    <>
      <Line label="Starts on">
        <Button
          title="Then click the face that the sheet lies on; it is folded over to the others from there"
          onClick={() => put({ task: { what: "roll-from", finish: finish.key } })}
        >
          A face…
        </Button>
        <MeasuredMark
          given={projection.from !== null}
          found="the largest face"
          again="chosen; the largest"
          onMeasure={() => attempt(set({ from: null }))}
        />
      </Line>
      <Line label="Faces">
        <Check
          label="hang together"
          checked={projection.together}
          onChange={(together) => attempt(set({ together }))}
          hint="No open seams: true near the start, softer the farther away"
        />
      </Line>
    </>
  );
}

export const roll: ProjectionPanel<"roll"> = {
  text: "Roll",
  hint: "Folded over from one face to all others, every face true to scale: folded sheet, shells, cones",
  start: { kind: "roll", from: null, together: false },
  byFace: true,
  round: false,
  hasDatum: false,
  fits: [],
  Lines,
};
