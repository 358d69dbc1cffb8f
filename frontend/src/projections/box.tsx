import type { Typed } from "../api/wire.gen";
import { attempt } from "../ui/attempt";
import { Choice } from "../ui/Choice";
import { Line } from "../ui/lines";
import { NumberField } from "../ui/NumberField";
import { mm } from "../ui/numbers";
import { MeasuredMark } from "./MeasuredMark";
import type { LinesProps, ProjectionPanel } from "./panel";

function Lines({ projection, measured, set }: LinesProps<"box">) {
  const size = projection.size_mm ?? (measured?.projection?.kind === "box" ? measured.projection.size_mm : null);
  return (
    <>
      <Line label="Corners">
        <Choice
          label="Corners"
          value={projection.corners}
          onChange={(corners) => attempt(set({ corners, size_mm: null }))}
          options={[
            { value: "separate", text: "Separate", hint: "Each side measures from the datum on its own" },
            { value: "wrapped", text: "Wrapped", hint: "The pattern runs on round the four upright corners" },
          ]}
        />
      </Line>
      {projection.corners === "wrapped" && size && (
        <Line label="Wrapped size">
          {([0, 1] as const).map((axis) => (
            <NumberField
              key={axis}
              hideLabel
              label={`Wrapped size ${"xy"[axis]}`}
              value={mm(size[axis])}
              unit="mm"
              className="flex-1"
              onCommit={(text) => {
                const size_mm: [Typed, Typed, Typed] = [...size];
                size_mm[axis] = text;
                return set({ size_mm });
              }}
            />
          ))}
          <MeasuredMark given={projection.size_mm !== null} onMeasure={() => attempt(set({ size_mm: null }))} />
        </Line>
      )}
    </>
  );
}

export const box: ProjectionPanel<"box"> = {
  text: "Box",
  hint: "Each face from the side it looks to: walls, furniture, anything square",
  start: { kind: "box", corners: "separate", size_mm: null },
  name: (projection) => (projection.corners === "wrapped" ? "Box, wrapped" : "Box"),
  byFace: true,
  round: false,
  hasDatum: true,
  fits: ["box", "face", "edge"],
  Lines,
};
