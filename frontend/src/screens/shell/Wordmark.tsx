/** The name, with courses of brick for a mark. */
export function Wordmark({ size = 22 }: { size?: number }) {
  return (
    <span className="flex items-center gap-2">
      <svg width={size} height={size} viewBox="0 0 32 32" aria-hidden>
        <path
          d="M3 22.5h26M3 13.5h26M12 4.5v9M20 13.5v9M9 22.5v5M23 4.5v9"
          stroke="var(--color-hand)"
          strokeWidth="2.5"
          fill="none"
        />
      </svg>
      <span className="font-figure font-semibold tracking-[0.04em]" style={{ fontSize: size * 0.95 }}>
        Pivrel
      </span>
    </span>
  );
}
