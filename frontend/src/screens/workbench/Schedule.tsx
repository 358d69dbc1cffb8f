import { AlertTriangle } from "lucide-react";
import { memo, useCallback, useEffect, useRef, type MouseEvent } from "react";

import { changing, type FinishChange } from "../../api/edits";
import { useEdits, useFigures } from "../../api/project";
import type { FigureName, Figures, Finish, Material, Pair, Project } from "../../api/wire.gen";
import { NumberField } from "../../ui/NumberField";
import { Swatch } from "../../ui/Swatch";
import { area, counted, mm, percent, plain } from "../../ui/numbers";
import { usePicking } from "./usePicking";
import { useDesk } from "../../state/desk";
import { put } from "../../state";

/** The finish schedule, as a drawing has it: later rows cover earlier ones. */
export function Schedule({ project }: { project: Project }) {
  const rows = useDesk((s) => s.rows);
  const pick = usePicking(project.id);
  const { data: figures } = useFigures(project);
  const last = useRef<string | null>(null);
  const finishes = useRef(project.finishes);
  useEffect(() => {
    finishes.current = project.finishes;
  }, [project.finishes]);

  // The same from state to state, so that only rows that are another are drawn anew.
  const choose = useCallback((key: string, event: MouseEvent) => {
    const keys = finishes.current.map((f) => f.key);
    const chosen = useDesk.getState().rows;
    if (event.shiftKey && last.current) {
      const [a, b] = [keys.indexOf(last.current), keys.indexOf(key)].sort((x, y) => x - y);
      put({ rows: keys.slice(a, (b ?? 0) + 1) });
    } else if (event.ctrlKey || event.metaKey) {
      put({ rows: chosen.includes(key) ? chosen.filter((k) => k !== key) : [...chosen, key] });
    } else {
      // A row that is chosen alone puts its material in hand, to be laid on elsewhere.
      put({ rows: [key], material: finishes.current.find((f) => f.key === key)!.material });
    }
    last.current = key;
  }, []);
  const pickFigure = useCallback(
    (key: string, figure: FigureName) => void pick({ how: "replace", figure: { figure, finish: key } }),
    [pick],
  );

  return (
    <section aria-label="Schedule" className="flex h-[15.5rem] shrink-0 flex-col border-t border-ink/70 bg-paper">
      <div className="min-h-0 flex-1 overflow-auto">
        <table className="w-full border-collapse">
          <thead className="sticky top-0 z-10 bg-paper text-left">
            <tr className="label border-b border-ink/70 [&>th]:px-1 [&>th]:py-1 [&>th:first-child]:pl-2 [&>th]:font-medium [&>th]:whitespace-nowrap">
              <th>Code</th>
              <th>Finish</th>
              <th>Laid on</th>
              <th>By</th>
              <th>Repeat, mm</th>
              <th>Turn</th>
              <th>Offset, mm</th>
              <th className="text-right">Area</th>
              <th className="text-right">True</th>
              <th className="text-right">Smeared</th>
              <th className="text-right">Mirrored</th>
              <th className="text-right">Seams</th>
            </tr>
          </thead>
          <tbody>
            {project.finishes.map((finish) => (
              <Row
                key={finish.key}
                projectId={project.id}
                material={project.materials[finish.material]}
                finish={finish}
                figures={figures?.[finish.key]}
                chosen={rows.includes(finish.key)}
                onChoose={choose}
                onFigure={pickFigure}
              />
            ))}
          </tbody>
        </table>
        {project.finishes.length === 0 && (
          <p className="px-4 py-5 text-faint">
            The schedule is empty. Pick faces of the model, choose a material on the right and lay it.
          </p>
        )}
      </div>
      <footer className="figure flex gap-5 border-t border-rule px-3 py-1">
        <span>
          {project.finishes.length === 1 ? "1 finish" : `${project.finishes.length} finishes`} on{" "}
          {area(project.model.area_m2 - project.bare.area_m2)}
        </span>
        {project.bare.faces > 0 ? (
          <button
            type="button"
            className="text-wrong underline decoration-dotted underline-offset-2"
            onClick={() => void pick({ how: "replace", figure: { figure: "bare" } })}
          >
            Bare: {counted(project.bare.faces, "face")}, {area(project.bare.area_m2)}. Pick{" "}
            {project.bare.faces === 1 ? "it" : "them"}
          </button>
        ) : (
          <span>No face is bare.</span>
        )}
        {rows.length > 1 && <span className="ml-auto text-hand">{rows.length} rows are edited together</span>}
      </footer>
    </section>
  );
}

interface RowProps {
  projectId: number;
  material?: Material;
  finish: Finish;
  figures?: Figures;
  chosen: boolean;
  onChoose: (key: string, event: MouseEvent) => void;
  onFigure: (key: string, figure: FigureName) => void;
}

const Row = memo(function Row({ projectId, material, finish, figures, chosen, onChoose, onFigure }: RowProps) {
  const { edit } = useEdits(projectId);
  // What is typed in one of several chosen rows is meant for all of them.
  const change = (what: FinishChange) => {
    const { rows } = useDesk.getState();
    return edit(changing(rows.includes(finish.key) ? rows : [finish.key], what));
  };
  const stale = figures !== undefined && figures.laying_key !== finish.laying_key;
  const measured = `figure text-right whitespace-nowrap ${stale ? "opacity-40" : ""}`;
  return (
    <tr
      onClick={(event) => onChoose(finish.key, event)}
      aria-selected={chosen}
      data-testid={`row-${finish.key}`}
      className={`border-b border-rule/80 [&>td]:px-1 [&>td]:py-[2px] [&>td:first-child]:pl-2 ${chosen ? "bg-hand-wash" : "hover:bg-sheet"}`}
    >
      <td className="figure font-medium">{finish.key}</td>
      <td>
        <span className="flex items-center gap-2 whitespace-nowrap">
          <Swatch material={material} />
          <button type="button" className="max-w-44 truncate text-left font-medium" title={material?.name}>
            {finish.name}
          </button>
        </span>
      </td>
      <td className="w-full max-w-0 min-w-16 truncate text-faint" title={finish.pick_words}>
        {finish.faces === 0 ? (
          <span className="text-wrong">{finish.held ? "covered by later rows" : "no face of this model"}</span>
        ) : (
          finish.pick_words
        )}
      </td>
      <td className="whitespace-nowrap">{finish.projection.kind}</td>
      <td>
        <PairField
          labels={[`Repeat width of ${finish.name}`, `Repeat height of ${finish.name}`]}
          values={finish.repeat_mm}
          width="w-[3.05rem]"
          onCommit={(repeat_mm) => change({ kind: "repeat", repeat_mm })}
        />
      </td>
      <td>
        <NumberField
          hideLabel
          compact
          label={`Turn of ${finish.name}`}
          value={plain(finish.turn_deg)}
          unit="°"
          className="w-[3.1rem]"
          onCommit={(text) => change({ kind: "turn_to", turn_deg: text })}
        />
      </td>
      <td>
        <PairField
          labels={[`Offset along of ${finish.name}`, `Offset up of ${finish.name}`]}
          values={finish.offset_mm}
          width="w-[2.85rem]"
          onCommit={(offset_mm) => change({ kind: "offset", offset_mm })}
        />
      </td>
      <td className="figure text-right whitespace-nowrap">{area(finish.area_m2)}</td>
      <td className={measured}>
        {!figures || finish.faces === 0 ? (
          "–"
        ) : figures.true_share > 0.9995 ? (
          percent(figures.true_share)
        ) : (
          <button
            type="button"
            className={`underline decoration-dotted underline-offset-2 ${figures.true_share < 0.8 ? "text-wrong" : ""}`}
            title="Pick the faces that are not true to scale within 5 %"
            onClick={() => onFigure(finish.key, "untrue")}
          >
            {percent(figures.true_share)}
          </button>
        )}
      </td>
      <td className={measured}>
        {figures && figures.smeared_m2 > 0.00005 ? (
          <Wrong
            text={area(figures.smeared_m2)}
            hint="Pick the smeared faces"
            onClick={() => onFigure(finish.key, "smeared")}
          />
        ) : (
          "–"
        )}
      </td>
      <td className={measured}>
        {figures && figures.mirrored_m2 > 0.00005 ? (
          <Wrong
            text={area(figures.mirrored_m2)}
            hint="Pick the faces that show the material mirrored"
            onClick={() => onFigure(finish.key, "mirrored")}
          />
        ) : (
          "–"
        )}
      </td>
      <td className={measured}>
        {figures && figures.seams_m > 0.0005 ? (
          <button
            type="button"
            className="underline decoration-dotted underline-offset-2"
            title={`Worst gap ${mm(figures.worst_gap_mm)} mm. Pick the faces at these seams`}
            onClick={() => onFigure(finish.key, "seams")}
          >
            {figures.seams_m.toFixed(2)} m
          </button>
        ) : figures && figures.joints_m > 0.0005 ? (
          <span
            className="text-faint"
            title={`The images differ at ${figures.joints_m.toFixed(2)} m of edges, but the joints run on`}
          >
            joints
          </span>
        ) : (
          "–"
        )}
      </td>
    </tr>
  );
});

function Wrong({ text, hint, onClick }: { text: string; hint: string; onClick: () => void }) {
  return (
    <button
      type="button"
      title={hint}
      onClick={onClick}
      className="inline-flex items-center gap-1 text-wrong underline decoration-dotted underline-offset-2"
    >
      <AlertTriangle size={13} aria-hidden /> {text}
    </button>
  );
}

interface PairProps {
  labels: [string, string];
  values: Pair;
  width: string;
  onCommit: (typed: [string | null, string | null]) => Promise<unknown>;
}

/** Two lengths in one cell; one is typed at a time. */
function PairField({ labels, values, width, onCommit }: PairProps) {
  return (
    <span className="flex items-center gap-1">
      {([0, 1] as const).map((side) => (
        <NumberField
          key={side}
          hideLabel
          compact
          label={labels[side]}
          value={mm(values[side])}
          className={width}
          onCommit={(text) => onCommit(side ? [null, text] : [text, null])}
        />
      ))}
    </span>
  );
}
