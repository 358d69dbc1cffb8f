import { useState } from "react";

/** A line of text that is kept when it is left. */
export function TextLine({
  label,
  value,
  onCommit,
}: {
  label: string;
  value: string;
  onCommit: (text: string) => Promise<unknown>;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const commit = () => {
    if (typed !== null && typed !== value) void onCommit(typed).catch(() => undefined);
    setTyped(null);
  };
  return (
    <label className="mb-2 block">
      <span className="label block">{label}</span>
      <input
        aria-label={label}
        value={typed ?? value}
        maxLength={200}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={commit}
        onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
        className="h-7 w-full border border-rule bg-sheet px-2 outline-none focus:border-hand"
      />
    </label>
  );
}
