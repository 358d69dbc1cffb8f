import type { Finish } from "../api/wire.gen";
import { put } from "../state";
import { useDesk } from "../state/desk";
import type { Lined } from "../model/lined";
import { attempt } from "../ui/attempt";
import { Button } from "../ui/Button";
import { Line } from "../ui/lines";
import { NumberField } from "../ui/NumberField";
import { count, plain } from "../ui/numbers";

interface Props {
  finish: Finish;
  projection: Lined;
  set: (options: { lines?: Lined["lines"]; reach?: string }) => Promise<unknown>;
}

/** The strokes that a sheet follows: drawn, along an edge, taken off; and how far they reach. */
export function StrokeLines({ finish, projection, set }: Props) {
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
    </>
  );
}
