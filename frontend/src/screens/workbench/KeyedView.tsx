import type { KeyboardEvent, ReactNode } from "react";

import { useEye } from "../../model/eye";

/** Degrees that a press of an arrow turns the eye; finer with Shift. */
const TURN = 10;
const FINE = 2;

const WAYS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

/** The model as something that the keyboard reaches: arrows turn it, Enter picks what is at the mark in the middle. */
export function KeyedView({ children }: { children: ReactNode }) {
  const onKey = (event: KeyboardEvent) => {
    const eye = useEye.getState();
    const way = WAYS[event.key];
    if (way) {
      const by = event.shiftKey ? FINE : TURN;
      eye.steer?.orbit(way[0] * by, way[1] * by);
    } else if (event.key === "Enter") {
      eye.click?.([eye.width / 2, eye.height / 2], event);
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <div
      role="application"
      tabIndex={0}
      aria-label="The model. Arrows turn it, plus and minus come closer, Enter picks what is at the middle"
      data-testid="keyed-view"
      className="group absolute inset-0 -outline-offset-2"
      onKeyDown={onKey}
      onPointerDown={(event) => event.currentTarget.focus({ preventScroll: true, focusVisible: false })}
    >
      {children}
      <span
        aria-hidden
        className="pointer-events-none absolute top-1/2 left-1/2 hidden size-5 -translate-1/2 rounded-full border-2 border-hand shadow-[0_0_0_2px_var(--color-sheet)] group-focus-visible:block"
      />
    </div>
  );
}
