import { useState } from "react";

import { useEdits } from "../../../api/project";
import type { By, Finish, Project, Variation } from "../../../api/wire.gen";
import { Button } from "../../../ui/Button";
import { Choice } from "../../../ui/Choice";
import { Menu } from "../../../ui/Menu";
import { Check, Line } from "../../../ui/lines";
import { useDesk } from "../../../state/desk";
import { put } from "../../../state";
import { usePick } from "../../../state/pick";
import type { Changing } from "./changing";

interface Props {
  project: Project;
  finishes: Finish[];
  now: Changing["now"];
}

const PIECES: { value: By; text: string; hint: string }[] = [
  { value: "part", text: "part", hint: "Every part takes its own place on the sheet" },
  { value: "board", text: "board", hint: "Every connected piece, as boards that came as one part" },
  { value: "patch", text: "patch", hint: "Every patch" },
  { value: "face", text: "face", hint: "Every face" },
];

const START: Variation = { by: "part", seed: 1, half_turns: false, mirrors: false };

/** Where joints fall, over which edges the pattern runs on, and how pieces differ. */
export function SetOutLines({ project, finishes, now }: Props) {
  const { run } = useEdits(project.id);
  const pick = usePick((s) => s.pick);
  const task = useDesk((s) => s.task);
  const [unit, setUnit] = useState<"joint" | "centre">("joint");
  const only = finishes.length === 1 ? finishes[0]! : null;
  const material = project.materials[finishes[0]!.material];
  const place = (at: "corner" | "edge" | "middle") => () => put({ task: { what: "set-out", at, unit } });
  const waiting = (at: string) => task?.what === "set-out" && task.at === at;
  const variation = finishes[0]!.variation;
  const vary = (what: Partial<Variation>) => now({ kind: "vary", variation: { ...START, ...variation, ...what } });
  return (
    <>
      <Line label="Put a">
        <Choice
          label="What is set out"
          value={unit}
          onChange={setUnit}
          options={[
            { value: "joint", text: "joint", hint: "Where units meet" },
            { value: "centre", text: "unit’s middle", hint: "The middle of a tile, a brick, a board" },
          ]}
        />
      </Line>
      <Line label="on">
        {(["corner", "edge", "middle"] as const).map((at) => (
          <Button
            key={at}
            className="flex-1 px-1!"
            look={waiting(at) ? "main" : "plain"}
            title={
              at === "corner"
                ? "Then click a corner: every side of the finish that meets there is set out to it"
                : "Then click it"
            }
            onClick={place(at)}
          >
            {at}…
          </Button>
        ))}
      </Line>
      {only && (
        <Line label="Balance">
          <Button
            className="flex-1"
            title="Equal cuts at opposite borders, none under half a unit where that can be had; courses stay level"
            onClick={() =>
              run({
                kind: "balance",
                finish: only.key,
                ...(pick.faces > 0 && pick.faces < only.faces ? { pick: pick.rule } : {}),
              })
            }
          >
            {pick.faces > 0 && pick.faces < only.faces ? "The picked faces" : "Every side of it"}
          </Button>
        </Line>
      )}
      {material && !material.joints && (
        <p className="mb-1.5 text-faint">This material has no joints: its repeat counts as the unit.</p>
      )}
      <Line label="Run on">
        <Button
          look={task?.what === "run-across" ? "main" : "plain"}
          title="The pattern of one side of an edge runs on over the other: turn and offset are found"
          onClick={() => put({ task: { what: "run-across" } })}
        >
          Over edge…
        </Button>
        <Check
          label="everywhere"
          checked={finishes.every((f) => f.run_on)}
          onChange={(run_on) => now({ kind: "run_on", run_on })}
          hint="Over as much visible length of edges as can be matched; where a ring cannot close, the seam lies where it shows least"
        />
      </Line>
      <Line label="No two alike">
        <Check
          label="each"
          checked={finishes.every((f) => f.variation)}
          onChange={(on) => now({ kind: "vary", variation: on ? START : null })}
          hint="Each piece takes its own place on the endless sheet, the same at every opening"
        />
        <Menu
          text={PIECES.find((p) => p.value === (variation?.by ?? "part"))!.text}
          title="What counts as a piece"
          items={PIECES.map((p) => ({ text: p.text, hint: p.hint, onSelect: () => vary({ by: p.value }) }))}
        />
        {variation && (
          <Button title="Another throw of the dice" onClick={() => vary({ seed: variation.seed + 1 })}>
            Again
          </Button>
        )}
      </Line>
      {variation && (material?.half_turns || material?.mirrors) && (
        <Line label="">
          {material.half_turns && (
            <Check
              label="half turns"
              checked={variation.half_turns}
              onChange={(half_turns) => vary({ half_turns })}
              hint="Some of them turned by 180 degrees"
            />
          )}
          {material.mirrors && (
            <Check
              label="flips"
              checked={variation.mirrors}
              onChange={(mirrors) => vary({ mirrors })}
              hint="Some of them flipped"
            />
          )}
        </Line>
      )}
    </>
  );
}
