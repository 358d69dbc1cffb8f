import { useMaterials } from "../../../api/project";
import type { Finish, Project } from "../../../api/wire.gen";
import { put } from "../../../state";
import { useLook } from "../../../state/look";
import { Line } from "../../../ui/lines";
import { MaterialSelect } from "../../../ui/MaterialSelect";
import { sharedBy, type Changing } from "./changing";
import { ToneLines } from "./coats/ToneLines";

interface Props {
  project: Project;
  finishes: Finish[];
  change: Changing["change"];
  now: Changing["now"];
}

/** The material of the finishes, and another beside it to compare. */
export function MaterialLines({ project, finishes, change, now }: Props) {
  const only = finishes.length === 1 ? finishes[0]! : null;
  const compare = useLook((s) => s.compare);
  const materials = useMaterials(project);
  const material = sharedBy(finishes, (f) => f.material);
  return (
    <>
      <Line label="Material">
        <MaterialSelect
          label="Material of the finish"
          value={material}
          materials={materials}
          first={material === "various" && { value: "various", text: "various" }}
          onChange={(key) => now({ kind: "set_material", material: key })}
        />
      </Line>
      <ToneLines project={project} finishes={finishes} change={change} now={now} />
      {only && (
        <Line label="Compare">
          <MaterialSelect
            label="Compare with another material"
            value={compare?.finish === only.key ? compare.material : ""}
            materials={materials.filter((m) => m.key !== only.material)}
            first={{ value: "", text: "with another, side by side…" }}
            onChange={(key) => put({ compare: key ? { finish: only.key, material: key, split: 0.5 } : null })}
          />
        </Line>
      )}
    </>
  );
}
