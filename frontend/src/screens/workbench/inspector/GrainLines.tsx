import { X } from "lucide-react";

import { useEdits } from "../../../api/project";
import type { Along, Finish, Project } from "../../../api/wire.gen";
import { Button } from "../../../ui/Button";
import { Menu } from "../../../ui/Menu";
import { NumberField } from "../../../ui/NumberField";
import { mm, plain } from "../../../ui/numbers";
import { Line, Rule } from "../../../ui/lines";
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
      <Rule>Grain</Rule>
      <Line label="Follows">
        <Menu
          text={along ? WORDS[along] : "various"}
          title="Which way the grain runs on each face"
          items={[
            { text: "The sheet", hint: "As the projection lays it, with the turn above", onSelect: rule("sheet") },
            {
              text: "Each board’s length",
              hint: "Every connected piece is measured along itself",
              onSelect: rule("length"),
            },
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
      {only && only.adjust.length > 0 && <Adjustments project={project} finish={only} />}
    </>
  );
}

/** Faces that lie otherwise than the rest of the finish. */
function Adjustments({ project, finish }: { project: Project; finish: Finish }) {
  const { run } = useEdits(project.id);
  return (
    <ul aria-label="Faces that lie otherwise" className="mb-1.5 border border-rule bg-sheet">
      {finish.adjust.map((a, row) => (
        <li key={row} className="flex items-center gap-2 border-b border-rule px-2 py-0.5 last:border-b-0">
          <span className="min-w-0 flex-1 truncate first-letter:uppercase" title={a.words}>
            {a.words}
          </span>
          <span className="figure whitespace-nowrap text-faint">
            {[
              a.turn_deg ? `${plain(a.turn_deg)}°` : null,
              a.offset_mm.some((v) => v !== 0) ? `${mm(a.offset_mm[0])}, ${mm(a.offset_mm[1])}` : null,
              a.mirrored ? "flipped" : null,
            ]
              .filter(Boolean)
              .join(" · ")}
          </span>
          <Button
            look="quiet"
            tight
            aria-label={`Lay ${a.words} like the rest again`}
            title="Lay these faces like the rest again"
            onClick={() => run({ kind: "drop_adjustment", finish: finish.key, row })}
          >
            <X size={14} />
          </Button>
        </li>
      ))}
    </ul>
  );
}
