import { DropdownMenu } from "radix-ui";

import { Key } from "./Button";
import { DropDown } from "./DropDown";

export interface WordOption<T extends string> {
  value: T;
  /** The word as it stands in the sentence, and in the menu. */
  text: string;
  hint?: string;
  shortcut?: string;
}

interface Props<T extends string> {
  label: string;
  value: T;
  onChange: (value: T) => void;
  options: WordOption<T>[];
}

/** A word of a sentence that stands for a choice: a press offers the others. */
export function Word<T extends string>({ label, value, onChange, options }: Props<T>) {
  const chosen = options.find((option) => option.value === value);
  return (
    <DropDown
      align="start"
      className="max-w-80"
      trigger={
        <DropdownMenu.Trigger
          aria-label={`${label}: ${chosen?.text ?? value}`}
          title={chosen?.hint}
          data-word={label}
          className="border-b border-dotted border-hand font-semibold text-hand hover:bg-hand-wash data-[state=open]:bg-hand-wash"
        >
          {chosen?.text ?? value}
        </DropdownMenu.Trigger>
      }
    >
      <DropdownMenu.RadioGroup value={value} onValueChange={(next) => onChange(next as T)}>
        {options.map((option) => (
          <DropdownMenu.RadioItem
            key={option.value}
            value={option.value}
            className="flex cursor-pointer items-start gap-2 py-1 pr-3 pl-2 outline-none data-[highlighted]:bg-hand-wash"
          >
            <span aria-hidden className="w-3 text-hand">
              {option.value === value ? "•" : ""}
            </span>
            <span className="flex-1">
              {option.text}
              {option.hint && <span className="block text-[12.5px] text-faint">{option.hint}</span>}
            </span>
            {option.shortcut && <Key>{option.shortcut}</Key>}
          </DropdownMenu.RadioItem>
        ))}
      </DropdownMenu.RadioGroup>
    </DropDown>
  );
}
