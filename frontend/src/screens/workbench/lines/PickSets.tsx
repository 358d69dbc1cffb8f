import { Trash2 } from "lucide-react";
import { Popover } from "radix-ui";

import { useEdits } from "../../../api/project";
import { useForget } from "../picking/useForget";
import type { Project } from "../../../api/wire.gen";
import { NameField } from "../../../ui/NameField";
import { usePicking } from "../picking/usePicking";
import { usePick } from "../../../state/pick";

/** Picks that are kept under a name, to be taken up again. */
export function PickSets({ project }: { project: Project }) {
  const pick = usePick((s) => s.pick);
  const how = usePick((s) => s.how);
  const ask = usePicking(project.id);
  const { run } = useEdits(project.id);
  const forget = useForget(project.id);
  return (
    <>
      <h3 className="heading mb-1">Kept picks</h3>
      {project.pick_sets.length === 0 && <p className="mb-2 text-faint">None is kept yet.</p>}
      <ul className="mb-2 divide-y divide-rule">
        {project.pick_sets.map((kept) => (
          <li key={kept.key} className="flex items-center gap-2 py-1">
            <Popover.Close asChild>
              <button
                type="button"
                className="min-w-0 flex-1 text-left hover:text-hand"
                onClick={() => void ask({ how, pick: kept.pick })}
              >
                <span className="block font-medium">{kept.name}</span>
                <span className="label block truncate">{kept.words}</span>
              </button>
            </Popover.Close>
            <button
              type="button"
              aria-label={`Forget ${kept.name}`}
              className="p-1 text-faint hover:text-wrong"
              onClick={() => forget("pick_set", kept)}
            >
              <Trash2 size={15} />
            </button>
          </li>
        ))}
      </ul>
      {pick.faces > 0 ? (
        <NameField
          label="Keep this pick as"
          action="Keep"
          onName={(name) => run({ kind: "keep_pick", name, pick: pick.rule })}
        />
      ) : (
        <p className="label">Pick something to keep it under a name.</p>
      )}
    </>
  );
}
