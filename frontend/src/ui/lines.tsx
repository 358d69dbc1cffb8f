import type { ReactNode } from "react";

import { NumberField } from "./NumberField";

/** A line of the inspector: what it is, and what can be done about it. */
export function Line({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className="mb-1.5 grid grid-cols-[5.5rem_1fr] items-center">
      <span className="label">{label}</span>
      <div className="flex min-w-0 items-center gap-1.5">{children}</div>
    </div>
  );
}

interface BothProps {
  values: [string, string];
  labels: [string, string];
  unit?: string;
  onCommit: (typed: [string | null, string | null]) => Promise<unknown>;
}

/** Two numbers that belong together; one is typed at a time. */
export function Both({ values, labels, unit, onCommit }: BothProps) {
  return (
    <>
      <NumberField
        hideLabel
        label={labels[0]}
        value={values[0]}
        unit={unit}
        className="flex-1"
        onCommit={(text) => onCommit([text, null])}
      />
      <span className="label">×</span>
      <NumberField
        hideLabel
        label={labels[1]}
        value={values[1]}
        unit={unit}
        className="flex-1"
        onCommit={(text) => onCommit([null, text])}
      />
    </>
  );
}

interface TypedProps {
  label: string;
  value: string;
  onType: (text: string) => void;
}

/** A length that is kept as it is typed: the server reads it once something is asked for with it. */
export function TypedMm({ label, value, onType }: TypedProps) {
  return (
    <NumberField
      hideLabel
      label={label}
      value={value}
      unit="mm"
      className="w-24"
      onCommit={async (text) => onType(text)}
    />
  );
}

export function Check({
  label,
  checked,
  onChange,
  hint,
}: {
  label: string;
  checked: boolean;
  onChange: (on: boolean) => void;
  hint?: string;
}) {
  return (
    <label className="flex items-center gap-1.5" title={hint}>
      <input
        type="checkbox"
        className="accent-hand"
        checked={checked}
        onChange={(event) => onChange(event.target.checked)}
      />
      {label}
    </label>
  );
}
