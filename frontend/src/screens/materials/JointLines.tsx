import { quantity } from "../../api/quantity";
import type { Joints } from "../../api/wire.gen";
import { NumberField } from "../../ui/NumberField";
import { mm, percent, plain } from "../../ui/numbers";

/** Where a material’s units meet; changed where onChange is given. */
export function JointLines({
  joints,
  onChange,
}: {
  joints: Joints | null;
  onChange: ((joints: Joints | null) => Promise<unknown>) | null;
}) {
  if (!onChange) {
    if (!joints) return <p className="mb-3">None: set-out goes by the whole repeat.</p>;
    const unit = joints.unit_mm.map((side) => (side === null ? "–" : mm(side))).join(" × ");
    return (
      <p className="figure mb-3">
        units of {unit} mm{joints.width_mm > 0 && `, joints of ${mm(joints.width_mm)} mm`}
        {joints.bond > 0 && `, each course shifted by ${percent(joints.bond)}`}
      </p>
    );
  }
  const now: Joints = joints ?? { unit_mm: [null, null], width_mm: 0, at_mm: [0, 0], bond: 0 };
  const side = (k: 0 | 1) => async (text: string) => {
    const unit: Joints["unit_mm"] = [...now.unit_mm];
    unit[k] = text.trim() === "" || text === "–" ? null : await quantity(text, "length");
    return onChange(unit[0] === null && unit[1] === null ? null : { ...now, unit_mm: unit });
  };
  return (
    <div className="mb-3 grid grid-cols-2 gap-x-2 gap-y-1">
      <NumberField
        label="Unit, wide"
        value={now.unit_mm[0] === null ? "–" : mm(now.unit_mm[0])}
        unit="mm"
        onCommit={side(0)}
      />
      <NumberField
        label="Unit, high"
        value={now.unit_mm[1] === null ? "–" : mm(now.unit_mm[1])}
        unit="mm"
        onCommit={side(1)}
      />
      {joints && (
        <>
          <NumberField
            label="Joint"
            value={mm(now.width_mm)}
            unit="mm"
            onCommit={async (text) => onChange({ ...now, width_mm: await quantity(text, "length") })}
          />
          <NumberField
            label="Course shift"
            value={plain(now.bond * 100, 1)}
            unit="%"
            onCommit={async (text) => onChange({ ...now, bond: (Number.parseFloat(text) || 0) / 100 })}
          />
        </>
      )}
    </div>
  );
}
