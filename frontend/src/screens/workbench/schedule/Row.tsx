import { Eye, EyeOff } from "lucide-react";
import { memo, type MouseEvent, type PointerEvent, type ReactNode } from "react";

import { changing, type FinishChange } from "../../../api/edits";
import { useEdits } from "../../../api/project";
import type { FigureName, Figures, Finish, Material } from "../../../api/wire.gen";
import { useDesk } from "../../../state/desk";
import { NumberField } from "../../../ui/NumberField";
import { Swatch } from "../../../ui/Swatch";
import { area, plain } from "../../../ui/numbers";
import { ROW_PX } from "../../../ui/useRowsInSight";
import type { Column } from "./columns";
import { MeasuredCell } from "./MeasuredCell";
import { PairField } from "./PairField";

interface Props {
  projectId: number;
  columns: Column[];
  material?: Material;
  finish: Finish;
  figures?: Figures;
  chosen: boolean;
  /** Where a dragged row would come to lie. */
  dropping: boolean;
  onChoose: (key: string, event: MouseEvent) => void;
  onFigure: (key: string, figure: FigureName) => void;
  onGrip: (key: string, event: PointerEvent) => void;
}

/** A finish as a row of the schedule. */
export const Row = memo(function Row(props: Props) {
  const { projectId, columns, finish, chosen, dropping, onChoose } = props;
  const { edit, run } = useEdits(projectId);
  // What is done in one of several chosen rows is meant for all of them.
  const all = () => {
    const { rows } = useDesk.getState();
    return rows.includes(finish.key) ? rows : [finish.key];
  };
  const change = (what: FinishChange) => edit(changing(all(), what));
  const toggle = () => run({ kind: "switch", finishes: all(), on: !finish.on });
  return (
    <tr
      onClick={(event) => onChoose(finish.key, event)}
      aria-selected={chosen}
      data-testid={`row-${finish.key}`}
      data-row={finish.key}
      style={{ height: ROW_PX }}
      className={`border-b border-rule/80 [&>td]:overflow-hidden [&>td]:px-1 [&>td]:py-0 ${chosen ? "bg-hand-wash" : "hover:bg-sheet"} ${finish.on ? "" : "text-faint"} ${dropping ? "shadow-[inset_0_2px_0_var(--color-hand)]" : ""}`}
    >
      {columns.map((column) => (
        <Cell key={column.id} id={column.id} change={change} toggle={toggle} {...props} />
      ))}
    </tr>
  );
});

interface CellProps extends Props {
  id: Column["id"];
  change: (what: FinishChange) => Promise<unknown>;
  /** Switches the row on or off. */
  toggle: () => void;
}

function Cell({ id, change, toggle, finish, figures, material, onFigure, onGrip }: CellProps): ReactNode {
  const stale = figures !== undefined && figures.laying_key !== finish.laying_key;
  switch (id) {
    case "on": {
      const Icon = finish.on ? Eye : EyeOff;
      return (
        <td>
          <button
            type="button"
            role="switch"
            aria-checked={finish.on}
            aria-label={`${finish.key} ${finish.name} is on`}
            title={finish.on ? "Switch it off, to look beneath" : "Switch it on again"}
            className="flex w-full justify-center hover:text-hand"
            onClick={(event) => {
              event.stopPropagation();
              toggle();
            }}
          >
            <Icon size={14} aria-hidden />
          </button>
        </td>
      );
    }
    case "code":
      return (
        <td
          className="figure cursor-grab touch-none font-medium select-none"
          title="Drag it to another place: later rows cover earlier ones"
          onPointerDown={(event) => onGrip(finish.key, event)}
        >
          {finish.key}
        </td>
      );
    case "finish":
      return (
        <td>
          <span className="flex items-center gap-2 whitespace-nowrap">
            <Swatch material={material} size={18} />
            <button type="button" className="truncate text-left font-medium" title={material?.name}>
              {finish.name}
            </button>
          </span>
        </td>
      );
    case "laid-on":
      return (
        <td className="truncate text-faint" title={finish.pick_words}>
          {finish.on && finish.faces === 0 ? (
            <span className="text-wrong" title={finish.troubles}>
              {whyNowhere(finish)}
            </span>
          ) : (
            finish.pick_words
          )}
        </td>
      );
    case "by":
      return <td className="whitespace-nowrap">{finish.projection.kind}</td>;
    case "repeat":
      return (
        <td>
          <PairField
            labels={[`Repeat width of ${finish.name}`, `Repeat height of ${finish.name}`]}
            values={finish.repeat_mm}
            onCommit={(repeat_mm) => change({ kind: "repeat", repeat_mm })}
          />
        </td>
      );
    case "turn":
      return (
        <td>
          <NumberField
            hideLabel
            compact
            label={`Turn of ${finish.name}`}
            value={plain(finish.turn_deg)}
            unit="°"
            onCommit={(text) => change({ kind: "turn_to", turn_deg: text })}
          />
        </td>
      );
    case "offset":
      return (
        <td>
          <PairField
            labels={[`Offset along of ${finish.name}`, `Offset up of ${finish.name}`]}
            values={finish.offset_mm}
            onCommit={(offset_mm) => change({ kind: "offset", offset_mm })}
          />
        </td>
      );
    case "area":
      return <td className="figure text-right whitespace-nowrap">{finish.on ? area(finish.area_m2) : "off"}</td>;
    case "true":
    case "smeared":
    case "mirrored":
    case "seams":
      return (
        <td className={`figure text-right whitespace-nowrap ${stale ? "italic" : ""}`}>
          <MeasuredCell id={id} finish={finish} figures={figures} onFigure={onFigure} />
        </td>
      );
    default:
      return id satisfies never;
  }
}

/** Why a finish lies on no face. */
function whyNowhere(finish: Finish): string {
  if (finish.failed) return "could not be laid";
  if (finish.troubles) return "not laid yet";
  return finish.held ? "covered by later rows" : "no face of this model";
}
