import { useQuery } from "@tanstack/react-query";
import { Eye, EyeOff } from "lucide-react";
import { useMemo, type MouseEvent } from "react";

import { getJson } from "../../../api/client";
import type { PartGroup, Project } from "../../../api/wire.gen";
import { usePartsView } from "../../../state/partsView";
import { usePick } from "../../../state/pick";
import { area, count } from "../../../ui/numbers";
import { HEADS_PX, ROW_PX, useRowsInSight } from "../../../ui/useRowsInSight";
import { held } from "../../../model/geometry";
import { usePicking } from "../picking/usePicking";
import { useSight } from "../picking/useSight";

/** The model's parts, or what its file groups them by: to find, to pick and to hide them without the pointer. */
export function PartsList({ project }: { project: Project }) {
  const { partsSearch, by } = usePartsView();
  const { data: parts = [] } = useQuery({
    queryKey: ["parts", project.id, project.revision, by],
    queryFn: () => getJson<PartGroup[]>(`/projects/${project.id}/parts/${by}`),
    placeholderData: (previous, query) => (query?.queryKey[3] === by ? previous : undefined),
  });
  const pick = usePicking(project.id);
  const groups = useMemo(() => {
    const words = partsSearch.toLowerCase().split(/\s+/);
    return parts.filter(({ name, stated }) => words.every((word) => `${name} ${stated}`.toLowerCase().includes(word)));
  }, [parts, partsSearch]);
  const { pane, drawn, above, below } = useRowsInSight(groups.length);
  const choose = (group: PartGroup, event: MouseEvent) =>
    void pick({
      how: event.shiftKey ? "add" : event.ctrlKey || event.metaKey ? "remove" : "replace",
      pick: group.pick,
    });
  return (
    <section aria-label="Parts of the model" className="h-full bg-paper">
      <div ref={pane} className="h-full overflow-auto bg-paper" data-testid="parts-pane">
        <table className="w-full min-w-[48rem] table-fixed border-collapse">
          <colgroup>
            <col style={{ width: 30 }} />
            <col />
            <col />
            <col style={{ width: 70 }} />
            <col style={{ width: 90 }} />
            <col style={{ width: 90 }} />
            <col />
          </colgroup>
          <thead className="sticky top-0 z-10 bg-paper text-left shadow-[0_1px_0_var(--color-ink)]">
            <tr className="label [&>th]:px-1 [&>th]:py-0 [&>th]:font-medium" style={{ height: HEADS_PX }}>
              <th scope="col">See</th>
              <th scope="col">Name</th>
              <th scope="col">Stated by the file</th>
              <th scope="col" className="text-right">
                Parts
              </th>
              <th scope="col" className="text-right">
                Faces
              </th>
              <th scope="col" className="text-right">
                Area
              </th>
              <th scope="col" className="pl-4!">
                What lies on it
              </th>
            </tr>
          </thead>
          <tbody>
            {above > 0 && <tr aria-hidden style={{ height: above }} />}
            {drawn.map((index) => (
              <PartRow key={groups[index]!.name} project={project} group={groups[index]!} onChoose={choose} />
            ))}
            {below > 0 && <tr aria-hidden style={{ height: below }} />}
          </tbody>
        </table>
        {groups.length === 0 && parts.length > 0 && (
          <p className="px-4 py-4 text-faint">No part is called like that.</p>
        )}
      </div>
    </section>
  );
}

interface RowProps {
  project: Project;
  group: PartGroup;
  onChoose: (group: PartGroup, event: MouseEvent) => void;
}

function PartRow({ project, group, onChoose }: RowProps) {
  const hidden = usePick((s) => s.hidden.mask);
  const picked = usePick((s) => s.pick.mask);
  const sight = useSight(project.id);
  // A face of it stands for all: whole parts are picked and hidden here.
  const away = held(hidden, group.first_face) === 1;
  const chosen = held(picked, group.first_face) === 1;
  const Icon = away ? EyeOff : Eye;
  const names = new Map(project.finishes.map((finish) => [finish.key, finish.name]));
  const lies = group.lies.map(({ finish }) => (finish === null ? "bare" : `${finish} ${names.get(finish) ?? ""}`));
  return (
    <tr
      style={{ height: ROW_PX }}
      className={`border-b border-rule/80 [&>td]:truncate [&>td]:px-1 [&>td]:py-0 ${chosen ? "bg-hand-wash" : "hover:bg-sheet"}`}
    >
      <td>
        <button
          type="button"
          role="switch"
          aria-checked={!away}
          aria-label={`${group.name} is in sight`}
          className="flex w-full justify-center hover:text-hand"
          onClick={() => sight(away ? "show" : "hide", group.pick)}
        >
          <Icon size={14} aria-hidden />
        </button>
      </td>
      <td>
        <button
          type="button"
          className="max-w-full truncate text-left font-medium hover:text-hand"
          title={`${group.name}: pick it (Shift adds, Ctrl takes off)`}
          onClick={(event) => onChoose(group, event)}
        >
          {group.name}
        </button>
      </td>
      <td className="text-faint">{group.stated}</td>
      <td className="figure text-right">{count(group.parts)}</td>
      <td className="figure text-right">{count(group.faces)}</td>
      <td className="figure text-right">{area(group.area_m2)}</td>
      <td className="pl-4!" title={lies.join(", ")}>
        {lies.slice(0, 3).join(", ")}
        {lies.length > 3 && ` and ${lies.length - 3} more`}
      </td>
    </tr>
  );
}
