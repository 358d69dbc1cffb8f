import type { ReactNode } from "react";

import { Button } from "../ui/Button";

/** The line over the view that says what a look means. */
export function Box({ children }: { children: ReactNode }) {
  return (
    <section
      aria-label="Legend"
      data-testid="legend"
      className="figure absolute bottom-2.5 left-2.5 flex max-w-[calc(100%-1.25rem)] flex-wrap items-center gap-x-3 gap-y-1 border border-rule bg-paper/95 px-2.5 py-1"
    >
      {children}
    </section>
  );
}

export function ColorKey({ color }: { color: string }) {
  return <span aria-hidden className="inline-block size-3.5 border border-ink/40" style={{ background: color }} />;
}

interface StepsProps {
  less: string;
  more: string;
  onStep: (up: boolean) => void;
}

export function Steps({ less, more, onStep }: StepsProps) {
  return (
    <span className="flex">
      <Button look="quiet" tight aria-label={less} onClick={() => onStep(false)}>
        −
      </Button>
      <Button look="quiet" tight aria-label={more} onClick={() => onStep(true)}>
        +
      </Button>
    </span>
  );
}
