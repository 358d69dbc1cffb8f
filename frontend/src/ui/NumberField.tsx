import { useEffect, useId, useRef, useState } from "react";
import { sentenceOf } from "./attempt";

interface Props {
  label: string;
  /** What is shown while nobody types. */
  value: string;
  unit?: string;
  /** Sends the text as typed; fails with the sentence that says what is wrong with it. */
  onCommit: (text: string) => Promise<unknown>;
  hideLabel?: boolean;
  /** Lower, for tables. */
  compact?: boolean;
  className?: string;
}

const SETTLES_MS = 3000;

/**
 * A number that is typed: with units and sums, read by the server. Enter keeps it, Escape does not. A value that
 * was refused goes back to the one that counts, with the reason beside the field: nothing typed is kept later.
 */
export function NumberField({ label, value, unit, onCommit, hideLabel, compact, className = "" }: Props) {
  const id = useId();
  const input = useRef<HTMLInputElement>(null);
  const entered = useRef(false);
  const leaving = useRef(false);
  const refusedAt = useRef(0);
  const [typed, setTyped] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);

  // The reason stays while the page takes in what somebody else has changed meanwhile, and goes with the next edit.
  useEffect(() => {
    if (Date.now() - refusedAt.current > SETTLES_MS) setWrong(null);
  }, [value]);

  const commit = async () => {
    if (typed === null || typed === value) {
      setTyped(null);
      setWrong(null);
      return;
    }
    try {
      await onCommit(typed);
      setTyped(null);
      setWrong(null);
    } catch (error) {
      setWrong(`“${typed}” was not taken: ${sentenceOf(error)}`);
      setTyped(null);
      refusedAt.current = Date.now();
      // Whoever pressed Enter stays in the field to type anew; whoever went on is not called back.
      if (entered.current) input.current?.focus();
    } finally {
      entered.current = false;
    }
  };

  return (
    <div className={`relative ${className}`}>
      <label htmlFor={id} className={hideLabel ? "sr-only" : "label block"}>
        {label}
      </label>
      <div
        className={`flex ${compact ? "h-[22px]" : "h-7"} items-center border bg-sheet focus-within:border-hand ${wrong ? "border-wrong" : "border-rule"}`}
      >
        <input
          id={id}
          ref={input}
          className="figure h-full w-full min-w-0 bg-transparent px-1 text-right outline-none"
          value={typed ?? value}
          inputMode="text"
          autoComplete="off"
          spellCheck={false}
          title="Units and sums work here: 2.4m, 8', 450/2"
          aria-invalid={wrong !== null}
          aria-describedby={wrong ? `${id}-wrong` : undefined}
          onFocus={(event) => event.target.select()}
          onChange={(event) => {
            setTyped(event.target.value);
            setWrong(null);
          }}
          onBlur={() => {
            // Escape leaves without keeping; the state it set is not seen here yet.
            if (leaving.current) leaving.current = false;
            else void commit();
          }}
          onKeyDown={(event) => {
            if (event.key === "Enter") {
              entered.current = true;
              input.current?.blur();
            }
            if (event.key === "Escape") {
              setTyped(null);
              setWrong(null);
              leaving.current = true;
              input.current?.blur();
            }
            event.stopPropagation();
          }}
        />
        {unit && <span className="label pr-1">{unit}</span>}
      </div>
      {wrong && (
        <p
          id={`${id}-wrong`}
          role="alert"
          className="absolute top-full right-0 z-30 w-64 border border-wrong bg-wrong-wash px-2 py-1 text-[13px] shadow-md first-letter:uppercase"
        >
          {wrong}.
        </p>
      )}
    </div>
  );
}
