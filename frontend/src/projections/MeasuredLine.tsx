import { attempt } from "../ui/attempt";
import { Line } from "../ui/lines";
import { NumberField } from "../ui/NumberField";
import { mm } from "../ui/numbers";
import { MeasuredMark } from "./MeasuredMark";

interface Props {
  label: string;
  /** What the field is called where the line's label alone does not say. */
  field?: string;
  given: number | null;
  /** What was measured; nothing where each piece has its own. */
  found?: number | null;
  set: (text: string | null) => Promise<unknown>;
}

/** A length that is measured, or given. */
export function MeasuredLine({ label, field = label, given, found, set }: Props) {
  const size = given ?? found ?? null;
  return (
    <Line label={label}>
      <NumberField
        hideLabel
        label={field}
        value={size === null ? "each its own" : mm(size)}
        unit={size === null ? undefined : "mm"}
        className="w-28"
        onCommit={(text) => set(text)}
      />
      <MeasuredMark given={given !== null} onMeasure={() => attempt(set(null))} />
    </Line>
  );
}
