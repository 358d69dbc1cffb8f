import type { Along, Finish, Project } from "../../../api/wire.gen";
import { panelOf } from "../../../projections/registry";
import { Menu } from "../../../ui/Menu";
import { NumberField } from "../../../ui/NumberField";
import { plain } from "../../../ui/numbers";
import { Line } from "../../../ui/lines";
import { put } from "../../../state";
import type { Changing } from "./changing";

const WORDS: Record<Along, string> = {
  sheet: "the sheet",
  direction: "a picked edge",
  edge: "each side’s longest edge",
  length: "each board’s length",
  level: "level",
  plumb: "plumb",
};

interface Props extends Changing {
  project: Project;
  finishes: Finish[];
}

/** What the grain follows, and which faces lie otherwise. */
export function GrainLines({ project, finishes, now, change }: Props) {
  const only = finishes.length === 1 ? finishes[0]! : null;
  const alongs = new Set(finishes.map((f) => f.grain.along));
  const along = alongs.size === 1 ? finishes[0]!.grain.along : null;
  const material = only && project.materials[only.material];
  const rule = (to: Along) => () => now({ kind: "follow_grain", grain: { along: to } });
  return (
    <>
      <Line label="Follows">
        <Menu
          text={along ? WORDS[along] : "various"}
          title="Which way the grain runs on each face"
          items={[
            { text: "The sheet", hint: "As the projection lays it, with the turn above", onSelect: rule("sheet") },
            ...(finishes.every((f) => panelOf(f.projection.kind).hasDatum)
              ? [
                  {
                    text: "Each board’s length",
                    hint: "Every connected piece is measured along itself",
                    onSelect: rule("length"),
                  },
                ]
              : []),
            { text: "Each side’s longest edge", onSelect: rule("edge") },
            { text: "Level", hint: "Across every slope", onSelect: rule("level") },
            { text: "Plumb", hint: "Down every slope", onSelect: rule("plumb") },
            ...(only
              ? [
                  {
                    text: "A picked edge…",
                    hint: "Then click the edge",
                    onSelect: () => put({ task: { what: "grain-edge" as const, finish: only.key } }),
                  },
                ]
              : []),
          ]}
        />
      </Line>
      {along === "sheet" && only && material?.grain_deg != null && (
        <Line label="On the face">
          <NumberField
            hideLabel
            label="Grain on the face"
            value={plain((((only.turn_deg + material.grain_deg) % 180) + 180) % 180)}
            unit="°"
            className="w-20"
            onCommit={(text) => change({ kind: "grain_to", grain_deg: text })}
          />
          <span className="label">0° is level</span>
        </Line>
      )}
      {along !== "sheet" && along !== null && (
        <p className="mb-1.5 text-faint">
          The turn above counts from there.
          {material && material.grain_deg == null && " This material has no grain: its width runs along."}
        </p>
      )}
    </>
  );
}
