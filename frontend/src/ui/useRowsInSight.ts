import { useVirtualizer, type Range } from "@tanstack/react-virtual";
import { useRef } from "react";

/** The height of a row of a list. */
export const ROW_PX = 23;
/** The height of its heads, which stay where they are. */
export const HEADS_PX = 22;
/** Rows come and go in runs of so many: between, what is drawn only moves, which costs no painting. */
const RUN = 4;
/** Runs drawn beyond the edges of the pane, so that scrolling meets no gap; each more makes every frame dearer. */
const BEYOND = 1;

/** The rows to draw where some are in sight. */
const inRuns = ({ startIndex, endIndex, count }: Range) => {
  const first = Math.max(0, (Math.floor(startIndex / RUN) - BEYOND) * RUN);
  const end = Math.min(count, (Math.ceil((endIndex + 1) / RUN) + BEYOND) * RUN);
  return Array.from({ length: end - first }, (_, k) => first + k);
};

/**
 * The rows of a long list that are to be drawn, by index, in a pane that scrolls, and the height of those above and
 * below. The pane needs an opaque background: then the browser moves it as one picture instead of painting it anew.
 */
export function useRowsInSight(count: number) {
  const pane = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => pane.current,
    estimateSize: () => ROW_PX,
    rangeExtractor: inRuns,
    // Rows are counted from the first, which lies below the heads.
    scrollPaddingEnd: HEADS_PX,
  });
  const drawn = virtual.getVirtualItems();
  return {
    pane,
    drawn: drawn.map(({ index }) => index),
    above: drawn[0]?.start ?? 0,
    below: virtual.getTotalSize() - (drawn.at(-1)?.end ?? 0),
    /** Scrolls no more than brings a row into sight. */
    show: (index: number) => virtual.scrollToIndex(index, { align: "auto" }),
  };
}
