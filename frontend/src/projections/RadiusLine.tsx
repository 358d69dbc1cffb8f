import type { DatumDrawing, Typed } from "../api/wire.gen";
import { attempt } from "../ui/attempt";
import { Line } from "../ui/lines";
import { NumberField } from "../ui/NumberField";
import { mm } from "../ui/numbers";
import { MeasuredMark } from "./MeasuredMark";

interface Props {
  given: number | null;
  measured?: DatumDrawing;
  set: (options: { radius_mm: Typed | null }) => Promise<unknown>;
}

/** The radius of a round projection: measured, or given. */
export function RadiusLine({ given, measured, set }: Props) {
  const found = measured?.projection && "radius_mm" in measured.projection ? measured.projection.radius_mm : null;
  const radius = given ?? found;
  return (
    <Line label="Radius">
      <NumberField
        hideLabel
        label="Radius"
        value={radius === null ? "each its own" : mm(radius)}
        unit={radius === null ? undefined : "mm"}
        className="w-28"
        onCommit={(radius_mm) => set({ radius_mm })}
      />
      <MeasuredMark given={given !== null} onMeasure={() => attempt(set({ radius_mm: null }))} />
    </Line>
  );
}
