import type { Typed } from "../api/wire.gen";
import { put } from "../state";
import { usePick } from "../state/pick";
import { attempt } from "../ui/attempt";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Line } from "../ui/lines";
import { NumberField } from "../ui/NumberField";
import { mm } from "../ui/numbers";
import { Troubles } from "./Troubles";
import { box } from "./box";
import { cylindrical } from "./cylindrical";
import { flow } from "./flow";
import { grainLines } from "./grainLines";
import { planar } from "./planar";
import { roll } from "./roll";
import { spherical } from "./spherical";
import type { LinesProps, Of, ProjectionPanel } from "./panel";

type Laid = Of<"drape">["laid"];

/** How a guide can be laid itself, each as its own panel has it begin. */
const LAID = { flow, planar, cylindrical, box, spherical, roll, lines: grainLines } satisfies {
  [K in Laid["kind"]]: ProjectionPanel<K>;
};

function Lines({ finish, projection, measured, set }: LinesProps<"drape">) {
  const pick = usePick((s) => s.pick);
  const guide = projection.lines
    ? "Stretched between two edges."
    : projection.over
      ? "Other faces are the guide."
      : "No guide yet: pick the faces that it is draped over, or click two edges.";
  return (
    <>
      <Line label="Guide">
        <Button
          disabled={pick.faces === 0}
          title="The faces picked now become the guide: its laying is taken over"
          onClick={() => attempt(set({ over: pick.rule, lines: null }))}
        >
          The pick
        </Button>
        <Button
          title="Then click two edges; the guide is stretched between them"
          onClick={() => put({ task: { what: "guide", finish: finish.key, from: null } })}
        >
          Two edges…
        </Button>
      </Line>
      <p className="mb-2 text-faint" data-testid="guide">
        {guide}
      </p>
      <Line label="Moved by">
        {([0, 1, 2] as const).map((axis) => (
          <NumberField
            key={axis}
            hideLabel
            label={`Guide moved along ${"xyz"[axis]}`}
            value={mm(projection.shift_mm[axis])}
            className="flex-1"
            onCommit={(text) => {
              const shift_mm: [Typed, Typed, Typed] = [...projection.shift_mm];
              shift_mm[axis] = text;
              return set({ shift_mm });
            }}
          />
        ))}
      </Line>
      <Line label="Seen">
        <Choice
          label="How faces see the guide"
          value={projection.by}
          onChange={(by) => attempt(set({ by }))}
          options={[
            { value: "smooth", text: "Smoothly", hint: "Along the guide's averaged normals, so that nothing jumps" },
            { value: "closest", text: "Closest", hint: "Each corner takes the nearest place of the guide" },
          ]}
        />
      </Line>
      <Line label="Laid by">
        <select
          aria-label="How the guide is laid"
          className="h-7 w-full border border-rule bg-sheet px-1"
          value={projection.laid.kind}
          onChange={(event) => attempt(set({ laid: LAID[event.target.value as Laid["kind"]].start }))}
        >
          {Object.entries(LAID).map(([kind, { text }]) => (
            <option key={kind} value={kind}>
              {text}
            </option>
          ))}
        </select>
      </Line>
      <Troubles measured={measured} />
    </>
  );
}

export const drape: ProjectionPanel<"drape"> = {
  text: "Drape",
  hint: "Takes the laying of a guide that lies over it: lumpy ground, cushions, both sides of a shell",
  start: {
    kind: "drape",
    over: null,
    lines: null,
    shift_mm: [0, 0, 0],
    by: "smooth",
    laid: LAID.flow.start,
  },
  byFace: true,
  round: false,
  hasDatum: false,
  fits: [],
  Lines,
};
