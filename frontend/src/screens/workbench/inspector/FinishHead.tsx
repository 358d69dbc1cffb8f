import { ArrowDown, ArrowUp, Copy, Trash2 } from "lucide-react";

import { useEdits } from "../../../api/project";
import type { Finish, Project } from "../../../api/wire.gen";
import { Button } from "../../../ui/Button";
import { Swatch } from "../../../ui/Swatch";

interface Props {
  project: Project;
  finishes: Finish[];
}

/** What is in hand by its name, its row in the schedule, and the way out of it. */
export function FinishHead({ project, finishes }: Props) {
  const { run } = useEdits(project.id);
  const first = finishes[0]!;
  const only = finishes.length === 1 ? first : null;
  const row = project.finishes.findIndex((f) => f.key === first.key);
  return (
    <div className="flex items-center gap-1 px-4 py-2">
      <Swatch material={only ? project.materials[first.material] : undefined} size={28} />
      <h2 className="heading ml-1 min-w-0 flex-1 truncate">
        {only ? `${only.key} ${only.name}` : `${finishes.length} finishes`}
      </h2>
      {only && (
        <>
          <Button
            look="quiet"
            tight
            aria-label="Move up the schedule"
            title="Move up the schedule"
            disabled={row === 0}
            onClick={() => run({ kind: "move", finish: only.key, to: row - 1 })}
          >
            <ArrowUp size={15} />
          </Button>
          <Button
            look="quiet"
            tight
            aria-label="Move down the schedule"
            title="Move down the schedule: it covers what is above it"
            disabled={row === project.finishes.length - 1}
            onClick={() => run({ kind: "move", finish: only.key, to: row + 1 })}
          >
            <ArrowDown size={15} />
          </Button>
        </>
      )}
      <Button
        look="quiet"
        tight
        aria-label="Duplicate"
        title="Duplicate: the same finish once more, in the row below"
        onClick={() => run({ kind: "duplicate", finishes: finishes.map((f) => f.key) })}
      >
        <Copy size={15} />
      </Button>
      <Button
        look="quiet"
        tight
        className="text-wrong"
        aria-label="Remove from the schedule"
        title="Remove from the schedule; undo brings it back"
        onClick={() => run({ kind: "remove", finishes: finishes.map((f) => f.key) })}
      >
        <Trash2 size={15} />
      </Button>
    </div>
  );
}
