import { attempt } from "../ui/attempt";
import { Check, Line } from "../ui/lines";
import { NumberField } from "../ui/NumberField";
import { plain } from "../ui/numbers";
import type { LinesProps, ProjectionPanel } from "./panel";
import { RadiusLine } from "./RadiusLine";

function Lines({ projection, measured, closings, set }: LinesProps<"cylindrical">) {
  return (
    <>
      <RadiusLine given={projection.radius_mm} measured={measured} set={set} />
      <Line label="Caps">
        <Check
          label="laid flat"
          checked={projection.caps}
          onChange={(caps) => attempt(set({ caps }))}
          hint="Faces that look along the axis are laid flat instead of rolled"
        />
        {projection.caps && (
          <>
            <span className="label ml-auto">within</span>
            <NumberField
              hideLabel
              label="Cap angle"
              value={plain(projection.cap_angle_deg)}
              unit="°"
              className="w-16"
              onCommit={(cap_angle_deg) => set({ cap_angle_deg })}
            />
          </>
        )}
      </Line>
      <Line label="Round">
        <Check
          label="whole repeats"
          checked={projection.whole_repeats}
          onChange={(whole_repeats) => attempt(set({ whole_repeats }))}
          hint="Sizes the sheet along so that a whole number of repeats closes the circle"
        />
        {closings.length > 0 && (
          <span className="figure ml-auto text-faint">
            scaled along by {closings.map((k) => plain(k, 4)).join(", ")}
          </span>
        )}
      </Line>
    </>
  );
}

export const cylindrical: ProjectionPanel<"cylindrical"> = {
  text: "Cylindrical",
  hint: "The sheet rolled round an axis: columns, vaults, bent walls",
  start: { kind: "cylindrical", radius_mm: null, caps: true, cap_angle_deg: 45, whole_repeats: false },
  byFace: true,
  round: true,
  hasDatum: true,
  fits: ["upright axes", "view"],
  Lines,
};
