interface Props {
  label: string;
  value: string;
  onChange: (value: string) => void;
}

/** Words that are searched for, in a line. */
export function SearchField({ label, value, onChange }: Props) {
  return (
    <input
      type="search"
      aria-label={label}
      placeholder="search"
      value={value}
      onChange={(event) => onChange(event.target.value)}
      className="h-[22px] w-28 border border-rule bg-sheet px-1.5 placeholder:text-faint"
    />
  );
}
