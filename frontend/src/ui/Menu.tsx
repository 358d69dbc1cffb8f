import { DropdownMenu } from "radix-ui";

import { Button } from "./Button";
import { DropDown } from "./DropDown";

export interface MenuItem {
  text: string;
  hint?: string;
  onSelect: () => void;
}

interface Props {
  text: string;
  title?: string;
  look?: "plain" | "main" | "quiet";
  className?: string;
  items: MenuItem[];
}

/** A button that offers a few things to do. */
export function Menu({ text, title, look, className, items }: Props) {
  return (
    <DropDown
      align="end"
      className="max-w-72"
      trigger={
        <DropdownMenu.Trigger asChild>
          <Button title={title} look={look} className={className}>
            {text} <span aria-hidden>▾</span>
          </Button>
        </DropdownMenu.Trigger>
      }
    >
      {items.map((item) => (
        <DropdownMenu.Item
          key={item.text}
          onSelect={item.onSelect}
          className="cursor-pointer px-3 py-1 outline-none data-[highlighted]:bg-hand-wash"
        >
          {item.text}
          {item.hint && <span className="block text-[12.5px] text-faint">{item.hint}</span>}
        </DropdownMenu.Item>
      ))}
    </DropDown>
  );
}
