import type { Pair } from "../../../api/wire.gen";
import { mm } from "../../../ui/numbers";
import { NumberField } from "../../../ui/NumberField";

interface Props {
  labels: [string, string];
  values: Pair;
  onCommit: (typed: [string | null, string | null]) => Promise<unknown>;
}

/** Two lengths in one cell; one is typed at a time. */
export function PairField({ labels, values, onCommit }: Props) {
  return (
    <span className="flex items-center gap-1">
      {([0, 1] as const).map((side) => (
        <NumberField
          key={side}
          hideLabel
          compact
          label={labels[side]}
          value={mm(values[side])}
          className="min-w-0 flex-1"
          onCommit={(text) => onCommit(side ? [null, text] : [text, null])}
        />
      ))}
    </span>
  );
}
