import { Popover } from "radix-ui";
import type { ReactNode } from "react";

import { Button } from "./Button";

interface Props {
  /** What the button says, and what the sheet is called. */
  text: ReactNode;
  label: string;
  title: string;
  look?: "quiet" | "main";
  side?: "top" | "bottom";
  align?: "start" | "end";
  className?: string;
  children: ReactNode;
}

/** A button of a line, and the small sheet that it opens beside itself. */
export function Flyout({
  text,
  label,
  title,
  look = "quiet",
  side = "top",
  align = "start",
  className = "",
  children,
}: Props) {
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button look={look} className="h-6! px-1.5!" title={title}>
          {text}
        </Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side={side}
          align={align}
          sideOffset={4}
          aria-label={label}
          className={`z-40 border border-ink bg-paper p-3 shadow-lg ${className}`}
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
