import { ChevronDown, ChevronRight } from "lucide-react";
import { Collapsible } from "radix-ui";
import type { ReactNode } from "react";

import { toggled, usePanes } from "../state/panes";

interface Props {
  title: string;
  /** What it says in a few words, to be read while it is folded up. */
  brief?: ReactNode;
  children: ReactNode;
}

/** A part of the panel that folds up, and stays so until it is opened again. */
export function Section({ title, brief, children }: Props) {
  const open = usePanes((s) => !s.folded.includes(title));
  const fold = () => usePanes.setState((s) => ({ folded: toggled(s.folded, title) }));
  return (
    <Collapsible.Root open={open} onOpenChange={fold} className="border-t border-rule">
      <h3>
        <Collapsible.Trigger className="flex w-full items-center gap-1.5 px-4 py-1.5 text-left hover:bg-shade">
          {open ? <ChevronDown size={14} aria-hidden /> : <ChevronRight size={14} aria-hidden />}
          <span className="font-figure font-semibold">{title}</span>
          {!open && <span className="figure min-w-0 flex-1 truncate text-right text-faint">{brief}</span>}
        </Collapsible.Trigger>
      </h3>
      <Collapsible.Content className="px-4 pt-0.5 pb-2">{children}</Collapsible.Content>
    </Collapsible.Root>
  );
}
