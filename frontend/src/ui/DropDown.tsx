import { DropdownMenu } from "radix-ui";
import { useState, type ReactNode } from "react";

interface Props {
  /** What opens it: one button. */
  trigger: ReactNode;
  align: "start" | "end";
  className?: string;
  children: ReactNode;
}

/** The frame of every menu that hangs from a button. */
export function DropDown({ trigger, align, className = "", children }: Props) {
  // Within the page's main part, so that whoever goes from part to part by ear meets it there.
  const [within, setWithin] = useState<HTMLElement | null>(null);
  return (
    <DropdownMenu.Root modal={false} onOpenChange={() => setWithin(document.querySelector("main"))}>
      {trigger}
      <DropdownMenu.Portal container={within}>
        <DropdownMenu.Content
          align={align}
          sideOffset={4}
          className={`z-40 border border-ink bg-paper py-1 shadow-lg ${className}`}
        >
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
