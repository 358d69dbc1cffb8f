import type { Project } from "../../../api/wire.gen";
import { FinishPanel } from "./FinishPanel";
import { LayPanel } from "./LayPanel";
import { useDesk } from "../../../state/desk";

/** What can be laid on the pick, and the finish in hand. */
export function Inspector({ project }: { project: Project }) {
  const rows = useDesk((s) => s.rows);
  const chosen = project.finishes.filter((finish) => rows.includes(finish.key));
  return (
    <aside
      aria-label="Inspector"
      className="flex min-h-0 flex-col overflow-x-hidden overflow-y-auto border-l border-ink/70 bg-paper"
    >
      <LayPanel project={project} />
      {chosen.length > 0 ? (
        <FinishPanel project={project} finishes={chosen} />
      ) : (
        <p className="border-t border-ink/70 px-4 py-4 text-faint">
          Choose a row of the schedule to see and change its finish here.
        </p>
      )}
    </aside>
  );
}
