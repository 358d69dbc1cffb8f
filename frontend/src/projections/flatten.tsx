import { useState } from "react";

import type { Flatten } from "../api/wire.gen";
import { put } from "../state";
import { useDesk } from "../state/desk";
import { attempt } from "../ui/attempt";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Check, Line } from "../ui/lines";
import { NumberField } from "../ui/NumberField";
import { counted, metres, plain } from "../ui/numbers";
import { StrokeLines } from "./StrokeLines";
import { Troubles } from "./Troubles";
import type { LinesProps, ProjectionPanel } from "./panel";

type Props = LinesProps<"flatten">;
type Way = "picked" | "creases" | "auto";

const WAYS = [
  { value: "auto" as const, text: "Found", hint: "Cut where it is needed, until enough of it lies true" },
  { value: "creases" as const, text: "Creases", hint: "Cut wherever the model has a crease: every patch is a piece" },
  {
    value: "picked" as const,
    text: "Picked",
    hint: "Cut along the edges that you pick, beginning with those that were found",
  },
];

const wayOf = ({ cuts }: Flatten): Way => (typeof cuts === "string" ? cuts : "picked");

function Lines(props: Props) {
  const { finish, projection, measured, set, keepCuts } = props;
  const way = wayOf(projection);
  const straight = projection.straight.length;
  const frames = measured?.frames ?? [];
  const cut = cutLength(frames);
  return (
    <>
      <Line label="Cuts">
        <Choice
          label="Where it is cut"
          value={way}
          onChange={(next) => {
            // What was found is where picking begins.
            attempt(next === "picked" ? keepCuts() : set({ cuts: next }));
            put({ task: next === "picked" ? { what: "cut", finish: finish.key } : null });
          }}
          options={WAYS}
        />
      </Line>
      {way === "picked" && <Picked {...props} />}
      {way === "auto" && <HowTrue {...props} />}
      {frames.length > 0 && (
        <p className="mb-2 text-faint" data-testid="flatten-pieces">
          {counted(frames.length, "piece")}
          {cut > 0 && `, cut along ${metres(cut / 1000, 2)}`}
        </p>
      )}
      <Line label="Upright">
        <Choice
          label="What is upright"
          value={typeof projection.upright === "string" ? projection.upright : ""}
          onChange={(upright) => upright && attempt(set({ upright }))}
          options={[
            { value: "place", text: "As it stands", hint: "Pieces stand on the sheet as they stand on the model" },
            { value: "grain", text: "Its length", hint: "The length of every piece runs along the sheet" },
          ]}
        />
      </Line>
      {straight > 0 && (
        <Line label="Straight">
          {counted(straight, "border")}
          <Button title="Lets all of them be" onClick={() => attempt(set({ straight: [] }))}>
            All off
          </Button>
        </Line>
      )}
      <Line label="Pieces">
        <Choice
          label="Where pieces lie"
          value={projection.layout.by}
          onChange={(by) => attempt(set({ layout: { by, gap_mm: projection.layout.gap_mm } }))}
          options={[
            { value: "place", text: "By place", hint: "As they lie on the model, moved apart along the sheet" },
            { value: "packed", text: "Packed", hint: "Close together" },
          ]}
        />
        <NumberField
          hideLabel
          label="Gap between pieces"
          value={plain(projection.layout.gap_mm)}
          unit="mm"
          className="w-20"
          onCommit={(gap_mm) => set({ layout: { by: projection.layout.by, gap_mm } })}
        />
      </Line>
      <Line label="Stretch">
        <Choice
          label="What stretch there is"
          value={projection.aim}
          onChange={(aim) => attempt(set({ aim }))}
          options={[
            { value: "true", text: "True", hint: "As much of it as can be true to size, the rest bears it" },
            { value: "even", text: "Even", hint: "Shared out over all of it" },
          ]}
        />
      </Line>
      <Line label="">
        <Check
          label="no piece over itself"
          hint="Cuts further where a piece would lie over itself on the sheet, so that each can be cut out or painted"
          checked={projection.apart}
          onChange={(apart) => attempt(set({ apart }))}
        />
      </Line>
      <StrokeLines finish={finish} projection={projection} set={set} />
      <Troubles measured={measured} lead="Not laid: " />
    </>
  );
}

/** Edges picked on the model: how many, and picking more. */
function Picked({ finish, projection, set }: Props) {
  const picking = useDesk((s) => s.task?.what === "cut" && s.task.finish === finish.key);
  const edges = typeof projection.cuts === "string" ? [] : (projection.cuts.edges ?? []);
  return (
    <Line label={edges.length ? counted(edges.length, "cut") : "No cut yet"}>
      <Button
        look={picking ? "main" : "plain"}
        aria-pressed={picking}
        title="Then click edges on the model: each is cut; click it again to close it"
        onClick={() => put({ task: picking ? null : { what: "cut", finish: finish.key } })}
      >
        {picking ? "Done" : "Pick edges…"}
      </Button>
      {edges.length > 0 && (
        <Button title="Closes all cuts" onClick={() => attempt(set({ cuts: { edges: [] } }))}>
          All off
        </Button>
      )}
    </Line>
  );
}

/** From few cuts to true: how much of the area has to lie true before cutting ends. */
function HowTrue({ projection, set }: Props) {
  const [dragged, setDragged] = useState<number | null>(null);
  const share = dragged ?? projection.wanted;
  const keep = () => {
    if (dragged !== null && dragged !== projection.wanted) attempt(set({ wanted: dragged }));
    setDragged(null);
  };
  return (
    <Line label="Few cuts">
      <input
        type="range"
        aria-label="From few cuts to true"
        className="min-w-0 flex-1 accent-hand"
        min={0.01}
        max={1}
        step={0.01}
        value={share}
        onChange={(event) => setDragged(event.target.valueAsNumber)}
        onPointerUp={keep}
        onKeyUp={keep}
        onBlur={keep}
      />
      <span
        className="label figure w-20 text-right"
        title="The share of the area that has to lie within 5 % of its size"
      >
        {Math.round(share * 100)} % true
      </span>
    </Line>
  );
}

/** mm: every cut has two sides. */
function cutLength(frames: NonNullable<Props["measured"]>["frames"]): number {
  let total = 0;
  for (const { lines } of frames)
    for (const { points } of lines)
      for (let k = 1; k < points.length; k++)
        total += Math.hypot(...points[k]!.map((value, axis) => value - points[k - 1]![axis]!));
  return total / 2;
}

export const flatten: ProjectionPanel<"flatten"> = {
  text: "Flatten",
  hint: "Cut open along edges and laid flat, piece by piece: moulded parts, cabinets, patterns to cut out",
  start: {
    kind: "flatten",
    cuts: "auto",
    aim: "true",
    upright: "place",
    max_stretch: 1.05,
    wanted: 0.99,
    layout: { by: "place", gap_mm: 20 },
    lines: [],
    reach: 0.25,
    straight: [],
    apart: false,
  },
  byFace: true,
  round: false,
  hasDatum: false,
  fits: [],
  Lines,
};
