import type { Coat, Finish, Project } from "../../../../api/wire.gen";
import { leavesOf } from "../../../../coats/laid";
import { brushOf } from "../../../../datum/StrokeOverlay";
import { put } from "../../../../state";
import { useDesk } from "../../../../state/desk";
import { attempt } from "../../../../ui/attempt";
import { Button } from "../../../../ui/Button";
import { Line } from "../../../../ui/lines";
import { NumberField } from "../../../../ui/NumberField";
import { counted, mm } from "../../../../ui/numbers";
import { readMm } from "./typed";

interface Props {
  project: Project;
  finish: Finish;
  row: number;
  change: (of: Partial<Coat>) => Promise<unknown>;
}

/** The brush that a coat is drawn with, and what was drawn. */
export function BrushLines({ project, finish, row, change }: Props) {
  const drawing = useDesk((s) => s.task?.what === "brush" && s.task.finish === finish.key && s.task.row === row);
  const radius = useDesk((s) => s.brushMm) ?? brushOf(project);
  const leaf = leavesOf(finish.coats[row]!.where).find(({ mask }) => "strokes" in mask);
  if (!leaf || !("strokes" in leaf.mask)) return null;
  const { strokes } = leaf.mask;
  const keep = (lines: typeof strokes.lines) =>
    attempt(change({ where: leaf.put({ strokes: { ...strokes, lines } }) }));
  return (
    <>
      <Line label="Brush">
        <NumberField
          hideLabel
          label="Radius of the brush"
          value={mm(radius)}
          unit="mm"
          className="w-24"
          onCommit={async (text) => put({ brushMm: Math.max(await readMm(text), 0.001) })}
        />
        <Button
          look={drawing ? "main" : "plain"}
          aria-pressed={drawing}
          title="Then draw on the model: the coat lies there"
          onClick={() => put({ task: drawing ? null : { what: "brush", finish: finish.key, row } })}
        >
          {drawing ? "Done drawing" : "Draw…"}
        </Button>
      </Line>
      {strokes.lines.length > 0 && (
        <Line label={counted(strokes.lines.length, "stroke")}>
          <Button title="Takes the last stroke away" onClick={() => keep(strokes.lines.slice(0, -1))}>
            Last off
          </Button>
          <Button title="Takes all strokes away" onClick={() => keep([])}>
            All off
          </Button>
        </Line>
      )}
    </>
  );
}
