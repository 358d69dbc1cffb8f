import { put } from "../../../state";
import { useScheduleView } from "../../../state/scheduleView";
import { HEADS_PX } from "../../../ui/useRowsInSight";
import type { Column } from "./columns";

/** The heads of the columns; a press puts the rows in order by one, another press the other way round. */
export function Heads({ columns }: { columns: Column[] }) {
  const sortBy = useScheduleView((s) => s.sortBy);
  const downwards = useScheduleView((s) => s.downwards);
  return (
    <thead className="sticky top-0 z-10 bg-paper text-left shadow-[0_1px_0_var(--color-ink)]">
      <tr
        className="label [&>th]:px-1 [&>th]:py-0 [&>th]:font-medium [&>th]:whitespace-nowrap"
        style={{ height: HEADS_PX }}
      >
        {columns.map(({ id, head, sortBy: by, figure }) => {
          const here = by !== undefined && by === sortBy;
          return (
            <th
              key={id}
              scope="col"
              aria-sort={here ? (downwards ? "descending" : "ascending") : undefined}
              className={figure ? "text-right" : ""}
            >
              {by ? (
                <button
                  type="button"
                  className="hover:text-ink"
                  title={by === "order" ? "The schedule’s own order" : `In order of this column`}
                  // Figures begin with the largest.
                  onClick={() => put({ sortBy: by, downwards: here ? !downwards : figure === true && by !== "true" })}
                >
                  {head} {here && (by !== "order" || downwards) && <span aria-hidden>{downwards ? "▾" : "▴"}</span>}
                </button>
              ) : (
                head
              )}
            </th>
          );
        })}
      </tr>
    </thead>
  );
}
