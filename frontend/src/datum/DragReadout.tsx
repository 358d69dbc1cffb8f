import { useEye } from "../model/eye";
import type { Readout } from "./useDrag";

const WIDTH = 190;

/** The numbers of a drag beside the hand; what is typed takes their place. */
export function DragReadout({ readout }: { readout: Readout }) {
  const { width, height } = useEye();
  const left = Math.min(Math.max(readout.at[0] + 22, 8), width - WIDTH - 8);
  const top = Math.min(Math.max(readout.at[1] + 18, 8), height - 80);
  return (
    <div
      role="status"
      data-testid="readout"
      className="pointer-events-none absolute z-20 border border-ink bg-paper px-2.5 py-1.5 shadow-md"
      style={{ left, top, width: WIDTH }}
    >
      <span className="label block">{readout.label}</span>
      {readout.typed === null ? (
        <strong className="figure text-[18px] font-semibold">{readout.text}</strong>
      ) : (
        <strong className="figure block border-b-2 border-hand text-[18px] font-semibold">
          {readout.typed}
          <span className="animate-pulse text-hand">|</span>
        </strong>
      )}
      <span className={`block text-[12.5px] ${readout.wrong ? "text-wrong" : "text-faint"}`}>
        {readout.wrong ??
          (readout.typed !== null
            ? "Enter keeps it, Esc takes it back"
            : readout.snapped
              ? `snapped to ${readout.snapped}`
              : "Type a number; Alt: no snapping")}
      </span>
    </div>
  );
}
