import { Dialog as Radix } from "radix-ui";
import type { ReactNode } from "react";

import { Button } from "./Button";

interface Props {
  title: string;
  /** What stands beside the title. */
  lead?: ReactNode;
  open: boolean;
  onClose: () => void;
  /** Of the sheet: its width, above all. */
  className?: string;
  testid?: string;
  children: ReactNode;
}

/** A sheet over the page, with its title and a way to close it. */
export function Dialog({ title, lead, open, onClose, className = "", testid, children }: Props) {
  return (
    <Radix.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-ink/35" />
        <Radix.Content
          aria-describedby={undefined}
          data-testid={testid}
          className={`fixed top-1/2 left-1/2 z-50 flex max-h-[96vh] max-w-[96vw] -translate-x-1/2 -translate-y-1/2 flex-col border border-ink bg-paper shadow-xl ${className}`}
        >
          <header className="flex items-baseline gap-4 border-b border-rule px-5 pt-3 pb-2">
            <Radix.Title className="heading">{title}</Radix.Title>
            <div className="flex-1">{lead}</div>
            <Radix.Close asChild>
              <Button shortcut="Esc">Close</Button>
            </Radix.Close>
          </header>
          {children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
