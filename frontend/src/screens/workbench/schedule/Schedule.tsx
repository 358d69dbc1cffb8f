import { ChevronDown, ChevronRight } from "lucide-react";
import { useCallback, useEffect, useEffectEvent, useMemo, type KeyboardEvent } from "react";

import { useFigures } from "../../../api/project";
import type { FigureName, Project } from "../../../api/wire.gen";
import { useDesk } from "../../../state/desk";
import { toggled, usePanes } from "../../../state/panes";
import { useScheduleView } from "../../../state/scheduleView";
import { ROW_PX, useRowsInSight } from "../../../ui/useRowsInSight";
import { usePicking } from "../picking/usePicking";
import { columnsShown } from "./columns";
import { Heads } from "./Heads";
import { listed } from "./listing";
import { Row } from "./Row";
import { useChooseRows } from "./useChooseRows";
import { useRowDrag } from "./useRowDrag";

/** The finish schedule, as a drawing has it: later rows cover earlier ones. */
export function Schedule({ project }: { project: Project }) {
  const rows = useDesk((s) => s.rows);
  const view = useScheduleView();
  const away = usePanes((s) => s.columnsAway);
  const pick = usePicking(project.id);
  const { data: figures } = useFigures(project);
  const { finishes, materials } = project;
  const columns = useMemo(() => columnsShown(away), [away]);
  const lines = useMemo(() => listed(finishes, view, { materials, figures }), [finishes, view, materials, figures]);
  const shown = useMemo(() => lines.flatMap((line) => (line.kind === "row" ? [line.finish] : [])), [lines]);
  const choose = useChooseRows(shown);
  const drag = useRowDrag(project, view.sortBy === "order" && !view.downwards && !view.grouped);
  const pickFigure = useCallback(
    (key: string, figure: FigureName) => void pick({ how: "replace", figure: { figure, finish: key } }),
    [pick],
  );

  const { pane, drawn, above, below, show } = useRowsInSight(lines.length);
  const inHand = rows.at(-1);
  const lineOf = (key?: string) => lines.findIndex((line) => line.kind === "row" && line.finish.key === key);
  const showInHand = useEffectEvent(() => {
    const at = lineOf(inHand);
    if (at >= 0) show(at);
  });
  // The row in hand comes into sight: after a click on the model, when it was laid just now, when a search ends.
  useEffect(() => showInHand(), [inHand, lines.length]);

  const onKey = (event: KeyboardEvent) => {
    const step = event.key === "ArrowDown" ? 1 : event.key === "ArrowUp" ? -1 : 0;
    if (!step || (event.target as HTMLElement).tagName === "INPUT") return;
    event.preventDefault();
    event.stopPropagation();
    const at = shown.findIndex((finish) => finish.key === inHand);
    const next = shown[Math.min(Math.max(at + step, 0), shown.length - 1)];
    if (!next) return;
    choose(next.key, { shiftKey: false, ctrlKey: false, metaKey: false });
    show(lineOf(next.key));
    requestAnimationFrame(() =>
      pane.current?.querySelector<HTMLElement>(`[data-row="${next.key}"] button.truncate`)?.focus(),
    );
  };

  return (
    <section aria-label="Schedule" className="h-full bg-paper">
      <div ref={pane} className="h-full overflow-auto bg-paper" data-testid="schedule-pane">
        <table
          className="w-full min-w-[62rem] table-fixed border-collapse"
          aria-rowcount={lines.length}
          role="grid"
          aria-multiselectable
          aria-label="Finishes"
          onKeyDown={onKey}
        >
          <colgroup>
            {columns.map(({ id, width }) => (
              <col key={id} style={{ width }} />
            ))}
          </colgroup>
          <Heads columns={columns} />
          <tbody>
            {above > 0 && <tr aria-hidden style={{ height: above }} />}
            {drawn.map((index) => {
              const line = lines[index]!;
              if (line.kind === "material")
                return <GroupRow key={`of ${line.material}`} {...line} columns={columns.length} />;
              const { finish } = line;
              return (
                <Row
                  key={finish.key}
                  projectId={project.id}
                  columns={columns}
                  material={materials[finish.material]}
                  finish={finish}
                  figures={figures?.[finish.key]}
                  chosen={rows.includes(finish.key)}
                  dropping={drag.before === finish.key}
                  onChoose={choose}
                  onFigure={pickFigure}
                  onGrip={drag.begin}
                />
              );
            })}
            {below > 0 && <tr aria-hidden style={{ height: below }} />}
          </tbody>
        </table>
        {lines.length === 0 && (
          <p className="px-4 py-4 text-faint">
            {finishes.length === 0
              ? "The schedule is empty. Pick faces of the model, choose a material and lay it."
              : "No row is like that. Clear the search, or choose all rows."}
          </p>
        )}
      </div>
    </section>
  );
}

interface GroupProps {
  material: string;
  name: string;
  rows: number;
  open: boolean;
  columns: number;
}

/** The rows of one material under its name. */
function GroupRow({ material, name, rows, open, columns }: GroupProps) {
  const Icon = open ? ChevronDown : ChevronRight;
  const fold = () => useScheduleView.setState((s) => ({ foldedMaterials: toggled(s.foldedMaterials, material) }));
  return (
    <tr style={{ height: ROW_PX }} className="border-b border-rule bg-shade">
      <td colSpan={columns} className="px-1.5 py-0">
        <button type="button" aria-expanded={open} onClick={fold} className="flex items-center gap-1.5 font-medium">
          <Icon size={14} aria-hidden /> {name} <span className="figure text-faint">{rows}</span>
        </button>
      </td>
    </tr>
  );
}
