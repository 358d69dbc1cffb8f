import { put } from "../state";
import { useDesk } from "../state/desk";
import { attempt } from "../ui/attempt";
import { Button } from "../ui/Button";
import { Line } from "../ui/lines";
import { NumberField } from "../ui/NumberField";
import { count, plain } from "../ui/numbers";
import { Troubles } from "./Troubles";
import type { LinesProps, ProjectionPanel } from "./panel";

function Lines({ finish, projection, measured, set }: LinesProps<"lines">) {
  const drawing = useDesk((s) => s.task?.what === "line" && s.task.finish === finish.key);
  const { lines } = projection;
  const words = lines.length === 1 ? "1 line" : `${count(lines.length)} lines`;
  return (
    <>
      <Line label="Grain lines">
        <Button
          look={drawing ? "main" : "plain"}
          aria-pressed={drawing}
          title="Then draw on the model: the sheet follows the line"
          onClick={() => put({ task: drawing ? null : { what: "line", finish: finish.key } })}
        >
          {drawing ? "Done drawing" : "Draw…"}
        </Button>
        <Button
          title="Then click an edge: the sheet runs along it"
          onClick={() => put({ task: { what: "line-edge", finish: finish.key } })}
        >
          An edge…
        </Button>
      </Line>
      {lines.length === 0 && <p className="mb-2 text-faint">Without a line it is flattened freely, level across.</p>}
      {lines.length > 0 && (
        <>
          <Line label={words}>
            <Button title="Takes the last line away" onClick={() => attempt(set({ lines: lines.slice(0, -1) }))}>
              Last off
            </Button>
            <Button title="Takes all lines away" onClick={() => attempt(set({ lines: [] }))}>
              All off
            </Button>
          </Line>
          <Line label="Reach">
            <NumberField
              hideLabel
              label="Reach of a line"
              value={plain(projection.reach, 3)}
              className="w-20"
              onCommit={(reach) => set({ reach })}
            />
            <span className="label">of the surface’s width</span>
          </Line>
        </>
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
