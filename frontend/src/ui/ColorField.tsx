import { useEffect, useRef, useState } from "react";

import { Button } from "./Button";

interface Props {
  label: string;
  /** #rrggbb, or null for none. */
  value: string | null;
  /** What none is called. */
  none: string;
  /** Follows the hand while a color is looked for. */
  onLive?: (color: string) => void;
  onCommit: (color: string | null) => void;
}

/** A color that is chosen, or none. */
export function ColorField({ label, value, none, onLive, onCommit }: Props) {
  const input = useRef<HTMLInputElement>(null);
  const [held, setHeld] = useState<string | null>(null);
  const commit = useRef(onCommit);
  commit.current = onCommit;
  useEffect(() => {
    const element = input.current;
    if (!element) return;
    // The browser says so once, when its own window of colors closes; React's own event comes at every move.
    const done = () => {
      setHeld(null);
      commit.current(element.value);
    };
    element.addEventListener("change", done);
    return () => element.removeEventListener("change", done);
  }, []);
  return (
    <>
      <input
        ref={input}
        type="color"
        aria-label={label}
        className="h-7 w-10 border border-rule bg-sheet p-0.5"
        value={held ?? value ?? "#ffffff"}
        onChange={(event) => {
          setHeld(event.target.value);
          onLive?.(event.target.value);
        }}
      />
      <span className="figure">{held ?? value ?? <span className="text-faint">{none}</span>}</span>
      {value && (
        <Button look="quiet" className="ml-auto" onClick={() => onCommit(null)}>
          None
        </Button>
      )}
    </>
  );
}
