import { RadioGroup } from "radix-ui";

interface Props<T extends string> {
  label: string;
  value: T | null;
  onChange: (value: T) => void;
  options: { value: T; text: string; hint?: string }[];
}

/** One of several, in as many rows as it takes. */
export function Picker<T extends string>({ label, value, onChange, options }: Props<T>) {
  return (
    <RadioGroup.Root
      aria-label={label}
      value={value ?? ""}
      onValueChange={(next) => onChange(next as T)}
      className="grid flex-1 grid-cols-3 gap-px border border-rule bg-rule"
    >
      {options.map((option) => (
        <RadioGroup.Item
          key={option.value}
          value={option.value}
          title={option.hint}
          className="h-[26px] bg-sheet px-1 whitespace-nowrap hover:bg-shade data-[state=checked]:bg-hand data-[state=checked]:text-white"
        >
          {option.text}
        </RadioGroup.Item>
      ))}
      {/* Fills the row, so that no dark cell is left. */}
      {Array.from({ length: (3 - (options.length % 3)) % 3 }, (_, k) => (
        <span key={k} aria-hidden className="bg-paper" />
      ))}
    </RadioGroup.Root>
  );
}
