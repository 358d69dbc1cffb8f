import { ToggleGroup } from "radix-ui";

interface Props<T extends string> {
  label: string;
  value: T;
  onChange: (value: T) => void;
  options: { value: T; text: string; hint?: string }[];
  /** Lower and narrower, for a line. */
  tight?: boolean;
}

/** One of a few, side by side. */
export function Choice<T extends string>({ label, value, onChange, options, tight }: Props<T>) {
  return (
    <ToggleGroup.Root
      type="single"
      aria-label={label}
      value={value}
      onValueChange={(next) => next && onChange(next as T)}
      className="inline-flex border border-rule bg-sheet"
    >
      {options.map((option) => (
        <ToggleGroup.Item
          key={option.value}
          value={option.value}
          title={option.hint}
          className={`${tight ? "h-[22px] px-[5px]" : "h-[26px] px-2.5"} border-l border-rule whitespace-nowrap first:border-l-0 hover:bg-shade data-[state=on]:bg-hand data-[state=on]:text-white`}
        >
          {option.text}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
