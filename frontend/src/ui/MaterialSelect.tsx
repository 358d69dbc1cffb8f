interface Props {
  label: string;
  value: string;
  materials: { key: string; name: string }[];
  /** What stands before the materials: no choice yet, or several. */
  first?: { value: string; text: string } | false;
  onChange: (key: string) => void;
}

/** One material of many, by its name. */
export function MaterialSelect({ label, value, materials, first, onChange }: Props) {
  return (
    <select
      aria-label={label}
      className="h-7 w-full border border-rule bg-sheet px-1.5"
      value={value}
      onChange={(event) => onChange(event.target.value)}
    >
      {first && <option value={first.value}>{first.text}</option>}
      {materials.map((m) => (
        <option key={m.key} value={m.key}>
          {m.name}
        </option>
      ))}
    </select>
  );
}
