import { attempt } from "../ui/attempt";
import { Choice } from "../ui/Choice";
import { Line } from "../ui/lines";
import { MaterialSelect } from "../ui/MaterialSelect";
import { NumberField } from "../ui/NumberField";
import { plain } from "../ui/numbers";
import type { LinesProps, ProjectionPanel } from "./panel";

function Lines({ projection, materials, set }: LinesProps<"triplanar">) {
  return (
    <>
      <Line label="Blend">
        <NumberField
          hideLabel
          label="Blend"
          value={plain(projection.blend, 3)}
          className="w-20"
          onCommit={(blend) => set({ blend })}
        />
        <span className="label">0 is sharp, 1 is widest</span>
      </Line>
      <Line label="Backs">
        <Choice
          label="Backs"
          value={projection.backs}
          onChange={(backs) => attempt(set({ backs }))}
          options={[
            { value: "unmirrored", text: "Unmirrored", hint: "Both sides of an axis are laid the right way round" },
            { value: "mirrored", text: "Mirrored", hint: "Both sides of an axis take the plus side's laying" },
          ]}
        />
      </Line>
      {(["x", "y", "z"] as const).map((axis) => (
        <Line key={axis} label={`Along ${axis}`}>
          <MaterialSelect
            label={`Material along ${axis}`}
            value={projection.materials[axis] ?? ""}
            materials={materials}
            first={{ value: "", text: "the finish’s own" }}
            onChange={(key) => attempt(set({ materials: { ...projection.materials, [axis]: key || null } }))}
          />
        </Line>
      ))}
    </>
  );
}

export const triplanar: ProjectionPanel<"triplanar"> = {
  text: "Triplanar",
  hint: "Three layings blended, so that nothing shows: stones, cushions, anything lumpy",
  start: { kind: "triplanar", blend: 0.3, backs: "unmirrored", materials: { x: null, y: null, z: null } },
  byFace: false,
  round: false,
  hasDatum: true,
  fits: ["box", "face", "edge"],
  Lines,
};
