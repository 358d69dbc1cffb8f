/** What is being done, and how much of it; a share of 0 is not known yet. */
export function Progress({ doing, share }: { doing: string; share: number }) {
  const percent = Math.round(share * 100);
  return (
    <div>
      <p className="mb-1.5 flex justify-between">
        <span className="first-letter:uppercase">{doing}…</span>
        {share > 0 && <span className="figure">{percent} %</span>}
      </p>
      <div
        role="progressbar"
        aria-label={doing}
        aria-valuenow={share > 0 ? percent : undefined}
        className="h-2 border border-rule bg-sheet"
      >
        <div
          // What is known now does not shrink from the full width that stood for not known.
          key={share > 0 ? "known" : "unknown"}
          className={`h-full bg-hand transition-[width] ${share > 0 ? "" : "animate-pulse"}`}
          style={{ width: share > 0 ? `${percent}%` : "100%", opacity: share > 0 ? 1 : 0.35 }}
        />
      </div>
    </div>
  );
}
