import { useState } from "react";

import { useEdits, useLibrary } from "../api/project";
import type { Project, Projection } from "../api/types";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Swatch } from "../ui/Swatch";
import { useNotices } from "../ui/notices";
import { area, mm } from "../ui/numbers";
import { NOTHING, useWorkbench } from "../workbench/store";

export const PROJECTIONS: { value: Projection["kind"]; text: string; hint: string }[] = [
  { value: "box", text: "Box", hint: "Each face from the side it looks to: walls, furniture, anything square" },
  { value: "planar", text: "Planar", hint: "One sheet pushed straight on: a single face, a gable, a floor" },
];

export function projectionOf(kind: Projection["kind"]): Projection {
  return kind === "box" ? { kind, corners: "separate" } : { kind, backs: "through" };
}

/** A material on the pick: two choices and a button. */
export function LayPanel({ project }: { project: Project }) {
  const { data: library = [] } = useLibrary();
  const { edit } = useEdits(project.id);
  const tell = useNotices((s) => s.tell);
  const { pick, set } = useWorkbench();
  const [key, setKey] = useState("brick");
  const [kind, setKind] = useState<Projection["kind"]>("box");
  // A material that the project uses may have been given another repeat there.
  const material = project.materials[key] ?? library.find((m) => m.key === key);

  const lay = async () => {
    try {
      const after = await edit({ kind: "lay", material: key, pick: pick.rule, projection: projectionOf(kind) });
      const added = after.finishes.at(-1);
      // The pick is put down, so that its hatching does not hide what was just laid.
      if (added) set({ rows: [added.key], pick: NOTHING });
    } catch (error) {
      tell(error instanceof Error ? error.message : String(error));
    }
  };

  return (
    <section aria-label="Lay" className="px-4 py-3">
      <h2 className="heading mb-2">Lay a material</h2>
      <div role="radiogroup" aria-label="Material" className="mb-2 grid grid-cols-5 gap-1.5">
        {library.map((m) => (
          <button
            key={m.key}
            type="button"
            role="radio"
            aria-checked={m.key === key}
            aria-label={m.name}
            title={m.name}
            onClick={() => setKey(m.key)}
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
          </span>
        )}
      </p>
      <div className="mb-2.5 flex items-center gap-3">
        <span className="label">Projection</span>
        <Choice label="Projection" value={kind} onChange={setKind} options={PROJECTIONS} />
      </div>
      <Button look="main" className="h-9 w-full" disabled={pick.faces === 0} onClick={() => void lay()}>
        {pick.faces === 0 ? "Pick faces to lay it on" : `Lay on the pick (${area(pick.areaM2)})`}
      </Button>
    </section>
  );
}
