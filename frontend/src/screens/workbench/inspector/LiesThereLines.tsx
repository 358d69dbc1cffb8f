import type { Project } from "../../../api/wire.gen";
import { put } from "../../../state";
import { usePick } from "../../../state/pick";
import { area } from "../../../ui/numbers";

/** More finishes than this are summed up. */
const MOST = 3;

/** What lies on the pick now; each finish can be taken in hand. */
export function LiesThereLines({ project }: { project: Project }) {
  const lies = usePick((s) => s.pick.lies);
  const bare = lies.find(({ finish }) => finish === null);
  const laid = lies.flatMap(({ finish, area_m2 }) => {
    const row = project.finishes.find(({ key }) => key === finish);
    return row ? [{ row, area_m2 }] : [];
  });
  if (laid.length === 0) return <p className="mb-2 text-faint">All of it is bare.</p>;
  return (
    <ul className="mt-0.5 mb-2" aria-label="What lies there now">
      {laid.slice(0, MOST).map(({ row, area_m2 }) => (
        <li key={row.key} className="flex items-baseline gap-1.5">
          <button
            type="button"
            className="truncate text-left underline decoration-dotted underline-offset-2 hover:text-hand"
            title="Takes this finish in hand"
            onClick={() => put({ rows: [row.key], material: row.material })}
          >
            {row.key} {row.name}
          </button>
          <span className="figure whitespace-nowrap text-faint">lies on {area(area_m2)} of it</span>
        </li>
      ))}
      {laid.length > MOST && <li className="text-faint">and {laid.length - MOST} more finishes</li>}
      {bare && <li className="text-faint">{area(bare.area_m2)} of it is bare</li>}
    </ul>
  );
}
