import { useQuery } from "@tanstack/react-query";
import { X } from "lucide-react";

import { getJson } from "../../../api/client";
import { useEdits } from "../../../api/project";
import type { AdjustedSides, Adjustment, Finish, Project } from "../../../api/wire.gen";
import { Button } from "../../../ui/Button";
import { counted, mm, plain, ratio } from "../../../ui/numbers";
import { usePicking } from "../picking/usePicking";

const however = ({ turn_deg, offset_mm, mirrored, size }: Adjustment) =>
  [
    turn_deg ? `turned ${plain(turn_deg)}°` : null,
    offset_mm.some((v) => v !== 0) ? `shifted ${mm(offset_mm[0])}, ${mm(offset_mm[1])} mm` : null,
    mirrored ? "flipped" : null,
    size !== 1 ? `at ${ratio(size)} of its size` : null,
  ]
    .filter(Boolean)
    .join(", ");

/** The sides that lie otherwise than the rest, by name; a press marks them in the view, another takes them back. */
export function Adjustments({ project, finish }: { project: Project; finish: Finish }) {
  const { run } = useEdits(project.id);
  const pick = usePicking(project.id);
  const { data } = useQuery({
    queryKey: ["sides", project.id, finish.key, finish.laying_key],
    queryFn: () => getJson<AdjustedSides>(`/projects/${project.id}/sides/${finish.key}`),
    placeholderData: (previous) => previous,
  });
  const name = (row: number) => data?.sides[row]?.name ?? finish.adjust[row]!.words;
  return (
    <>
      <p className="mb-1">
        {counted(finish.adjust.length, "side")} {finish.adjust.length === 1 ? "lies" : "lie"} otherwise than the rest.
        {data?.cuts && <span className="block text-faint first-letter:uppercase">{data.cuts}.</span>}
      </p>
      <ul aria-label="Faces that lie otherwise" className="mb-1.5 max-h-52 overflow-auto border border-rule bg-sheet">
        {finish.adjust.map((a, row) => (
          <li key={row} className="flex items-center gap-2 border-b border-rule px-2 py-0.5 last:border-b-0">
            <button
              type="button"
              className="min-w-0 flex-1 text-left hover:text-hand"
              title={`${a.words}: mark it in the view`}
              onClick={() => void pick({ how: "replace", figure: { figure: "adjusted", finish: finish.key, row } })}
            >
              <span className="block truncate first-letter:uppercase">{name(row)}</span>
              <span className="figure block truncate text-faint">{however(a)}</span>
            </button>
            <Button
              look="quiet"
              tight
              aria-label={`Lay ${name(row)} like the rest again`}
              title="Lay these faces like the rest again"
              onClick={() => run({ kind: "drop_adjustment", finish: finish.key, row })}
            >
              <X size={14} />
            </Button>
          </li>
        ))}
      </ul>
      <Button className="mb-1.5" onClick={() => run({ kind: "drop_adjustment", finish: finish.key })}>
        Lay all of it alike again
      </Button>
    </>
  );
}
