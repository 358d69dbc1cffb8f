import { useState } from "react";

import { useEdits, useLibrary } from "../../../api/project";
import type { Project } from "../../../api/wire.gen";
import { useTrials } from "../trials/useTrials";
import { Button } from "../../../ui/Button";
import { Picker } from "../../../ui/Picker";
import { Swatch } from "../../../ui/Swatch";
import { area, mm, plain } from "../../../ui/numbers";
import { lookingFrom, useEye } from "../../../model/eye";
import { PROJECTION_CHOICES, projectionOf, type Kind } from "../../../projections/registry";
import { useDesk } from "../../../state/desk";
import { put } from "../../../state";
import { NOTHING, usePick } from "../../../state/pick";
import { attempt } from "../../../ui/attempt";

/** A material on the pick: two choices and a button. */
export function LayPanel({ project }: { project: Project }) {
  const { data: library = [] } = useLibrary();
  const { edit } = useEdits(project.id);
  const { start } = useTrials(project);
  const pick = usePick((s) => s.pick);
  const held = useDesk((s) => s.material);
  const [kind, setKind] = useState<Kind>("box");
  // What the project has of its own stands first; a library material that it uses may have another repeat there.
  const own = Object.values(project.materials).filter((m) => !library.some((l) => l.key === m.key));
  const offered = [...own, ...library];
  const key = offered.some((m) => m.key === held) ? held : (library[0]?.key ?? held);
  const material = project.materials[key] ?? library.find((m) => m.key === key);

  const shown = material ? (pick.areaM2 * 1e6) / (material.repeat_mm[0] * material.repeat_mm[1]) : 0;

  const lay = () => {
    attempt(async () => {
      const eye = useEye.getState();
      // The seam of a round projection falls on the side that is not seen from here.
      const aim = eye.camera ? { towards: lookingFrom(eye).towards } : {};
      const after = await edit({ kind: "lay", material: key, pick: pick.rule, projection: projectionOf(kind), aim });
      const added = after.finishes.at(-1);
      // The pick is put down, so that its hatching does not hide what was just laid.
      if (added) put({ rows: [added.key], pick: NOTHING });
    });
  };

  return (
    <section aria-label="Lay" className="px-4 py-3">
      <h2 className="heading mb-2">Lay a material</h2>
      <div role="radiogroup" aria-label="Material" className="mb-2 grid grid-cols-5 gap-1.5">
        {offered.map((m) => (
          <button
            key={m.key}
            type="button"
            role="radio"
            aria-checked={m.key === key}
            aria-label={m.name}
            title={m.name}
            onClick={() => put({ material: m.key })}
            className={`border-2 ${m.key === key ? "border-hand" : "border-transparent hover:border-rule"}`}
          >
            <Swatch material={m} size={48} />
          </button>
        ))}
      </div>
      <p className="mb-2.5">
        <span className="font-medium">{material?.name}</span>
        {material && (
          <span className="figure block text-faint">
            repeats every {mm(material.repeat_mm[0])} × {mm(material.repeat_mm[1])} mm
            {material.estimated && " (estimated)"}
            {pick.faces > 0 &&
              (shown < 0.95 ? ", more than the pick" : `, ${plain(shown, shown < 10 ? 1 : 0)} times on the pick`)}
          </span>
        )}
      </p>
      <div className="mb-2.5">
        <Picker label="Projection" value={kind} onChange={setKind} options={PROJECTION_CHOICES} />
      </div>
      <div className="flex gap-1.5">
        <Button look="main" className="h-9 flex-1" disabled={pick.faces === 0} onClick={lay}>
          {pick.faces === 0 ? "Pick faces to lay it on" : `Lay on the pick (${area(pick.areaM2)})`}
        </Button>
        <Button
          className="h-9"
          disabled={pick.faces === 0}
          title="Lays the pick by every projection and shows them side by side"
          onClick={() => start(null, key)}
        >
          Try all
        </Button>
      </div>
    </section>
  );
}
