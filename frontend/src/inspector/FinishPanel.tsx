import { ArrowDown, ArrowUp, RotateCcw, RotateCw, Trash2 } from "lucide-react";
import { useState, type ReactNode } from "react";

import { useEdits, useFigures, useLibrary } from "../api/project";
import type { Edit, Finish, Project } from "../api/types";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { NumberField } from "../ui/NumberField";
import { Swatch } from "../ui/Swatch";
import { area, count, mm, percent, plain } from "../ui/numbers";
import { usePicking } from "../workbench/usePicking";
import { useWorkbench } from "../workbench/store";
import { PROJECTIONS, projectionOf } from "./LayPanel";

type Change = Partial<Extract<Edit, { kind: "change" }>>;

/** The finish in hand, or several that are changed alike; figures that differ show as “various”. */
export function FinishPanel({ project, finishes }: { project: Project; finishes: Finish[] }) {
  const { edit, run } = useEdits(project.id);
  const pick = usePicking(project.id);
  const { data: library = [] } = useLibrary();
  const inHand = useWorkbench((s) => s.pick);
  const [linked, setLinked] = useState(true);
  const keys = finishes.map((f) => f.key);
  const first = finishes[0]!;
  const only = finishes.length === 1 ? first : null;
  const row = project.finishes.findIndex((f) => f.key === first.key);

  const change = (what: Change) => edit({ kind: "change", finishes: keys, ...what });
  const now = (what: Change) => run({ kind: "change", finishes: keys, ...what });
  const shared = (show: (finish: Finish) => string) => {
    const all = new Set(finishes.map(show));
    return all.size === 1 ? show(first) : "various";
  };
  const materials = [
    ...Object.values(project.materials),
    ...library.filter((m) => !(m.key in project.materials)),
  ];
  const sheetMaterial = project.materials[first.material];

  return (
    <section aria-label="Finish" className="border-t border-ink/70 px-4 py-3">
      <div className="mb-1.5 flex items-center gap-1">
        <Swatch material={only ? sheetMaterial : undefined} size={28} />
        <h2 className="heading ml-1 min-w-0 flex-1 truncate">{only ? `${only.key} ${only.name}` : `${finishes.length} finishes`}</h2>
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
          className="text-wrong"
          aria-label="Remove from the schedule"
          title="Remove from the schedule; undo brings it back"
          onClick={() => run({ kind: "remove", finishes: keys })}
        >
          <Trash2 size={15} />
        </Button>
      </div>

      <Line label="Material">
        <select
          aria-label="Material of the finish"
          className="h-7 w-full border border-rule bg-sheet px-1.5"
          value={shared((f) => f.material)}
          onChange={(event) => now({ material: event.target.value })}
        >
          {!only && shared((f) => f.material) === "various" && <option value="various">various</option>}
          {materials.map((m) => (
            <option key={m.key} value={m.key}>
              {m.name}
            </option>
          ))}
        </select>
      </Line>
      <Line label="Projection">
        <Choice
          label="Projection of the finish"
          value={shared((f) => f.projection.kind) as Finish["projection"]["kind"]}
          onChange={(kind) => now({ projection: projectionOf(kind) })}
          options={PROJECTIONS}
        />
      </Line>
      {finishes.every((f) => f.projection.kind === "planar") && (
        <Line label="Backs">
          <Choice
            label="Backs"
            value={shared((f) => (f.projection.kind === "planar" ? f.projection.backs : "")) as "through" | "unmirrored"}
            onChange={(backs) => now({ projection: { kind: "planar", backs } })}
            options={[
              { value: "through", text: "Through", hint: "Faces that look away are laid through, and so mirrored" },
              { value: "unmirrored", text: "Unmirrored", hint: "Faces that look away are laid the right way round" },
            ]}
          />
        </Line>
      )}

      <Rule>Sheet</Rule>
      <Line label="Turn">
        <NumberField hideLabel label="Turn" value={shared((f) => plain(f.turn_deg))} unit="°" className="w-20" onCommit={(text) => change({ turn_deg: text })} />
        <Button aria-label="Turn by 90 degrees" title="Turn by 90° counter-clockwise (T)" onClick={() => now({ turn_by: 90 })} shortcut="T">
          <RotateCcw size={14} aria-hidden /> 90°
        </Button>
        <Button look="quiet" tight aria-label="Turn back by 90 degrees" title="Turn by 90° clockwise (Shift+T)" onClick={() => now({ turn_by: -90 })}>
          <RotateCw size={14} aria-hidden />
        </Button>
      </Line>
      {sheetMaterial?.grain_deg != null && only && (
        <Line label="Grain on face">
          <NumberField
            hideLabel
            label="Grain on the face"
            value={plain((((only.turn_deg + sheetMaterial.grain_deg) % 180) + 180) % 180)}
            unit="°"
            className="w-20"
            onCommit={(text) => change({ grain_deg: text })}
          />
          <span className="label">0° is level</span>
        </Line>
      )}
      <Line label="Repeat">
        <Both values={[shared((f) => mm(f.repeat_mm[0])), shared((f) => mm(f.repeat_mm[1]))]} labels={["Repeat width", "Repeat height"]} unit="mm" onCommit={(repeat_mm) => change({ repeat_mm, linked })} />
      </Line>
      <Line label="Scale">
        <Both values={[shared((f) => plain(f.scale[0], 4)), shared((f) => plain(f.scale[1], 4))]} labels={["Scale along", "Scale up"]} onCommit={([a, b]) => change({ scale: linked ? [a ?? b, b ?? a] : [a, b] })} />
      </Line>
      <Line label="">
        <label className="flex items-center gap-1.5">
          <input type="checkbox" className="accent-hand" checked={linked} onChange={(event) => setLinked(event.target.checked)} />
          keep proportions
        </label>
      </Line>
      <Line label="Offset">
        <Both values={[shared((f) => mm(f.offset_mm[0])), shared((f) => mm(f.offset_mm[1]))]} labels={["Offset along", "Offset up"]} unit="mm" onCommit={(offset_mm) => change({ offset_mm })} />
      </Line>

      {only && <DatumLines finish={only} change={change} now={now} />}

      <Rule>Laid on</Rule>
      <p className="mb-2">
        <span className="first-letter:uppercase">{only ? only.pick_words : `${count(finishes.reduce((n, f) => n + f.faces, 0))} faces`}</span>
        {only && only.faces === 0 && <span className="text-wrong"> – all of it covered by later rows</span>}
      </p>
      {only && (
        <div className="mb-1 flex gap-2">
          <Button onClick={() => void pick({ how: "replace", figure: { figure: "covered", finish: only.key } })}>Pick these faces</Button>
          <Button disabled={inHand.faces === 0} title="The finish covers the faces picked now" onClick={() => now({ pick: inHand.rule })}>
            Use the pick
          </Button>
        </div>
      )}
      {only && <Measured project={project} finish={only} />}
    </section>
  );
}

function DatumLines({ finish, change, now }: { finish: Finish; change: (what: Change) => Promise<unknown>; now: (what: Change) => void }) {
  const { datum } = finish;
  return (
    <>
      <Rule>Datum</Rule>
      <Line label="Origin">
        {([0, 1, 2] as const).map((axis) => (
          <NumberField
            key={axis}
            hideLabel
            label={`Origin ${"xyz"[axis]}`}
            value={mm(datum.origin_mm[axis])}
            className="flex-1"
            onCommit={(text) => {
              const origin: [string | number, string | number, string | number] = [...datum.origin_mm];
              origin[axis] = text;
              return change({ datum: { ...datum, origin_mm: origin } });
            }}
          />
        ))}
      </Line>
      <Line label="Looks along">
        <span className="figure flex-1">({datum.z_axis.map((v) => plain(v, 3)).join(", ")})</span>
        <Button title="Place the projection anew, to suit the faces it is laid on" onClick={() => now({ datum: "fit" })}>
          Fit anew
        </Button>
      </Line>
    </>
  );
}

function Measured({ project, finish }: { project: Project; finish: Finish }) {
  const { data } = useFigures(project);
  const pick = usePicking(project.id);
  const figures = data?.[finish.key];
  if (!figures || finish.faces === 0) return null;
  const fresh = figures.laying_key === finish.laying_key;
  const lines: { label: string; text: string; wrong?: boolean; figure?: "smeared" | "mirrored" | "seams" }[] = [
    { label: "Area", text: `${area(finish.area_m2)} on ${count(finish.faces)} faces` },
    { label: "True to scale", text: `${percent(figures.true_share)} of the area` },
    { label: "Stretch", text: `${percent(figures.least_stretch)} to ${percent(figures.greatest_stretch)}` },
    { label: "Smeared", text: area(figures.smeared_m2), wrong: figures.smeared_m2 > 0.00005, figure: "smeared" },
    { label: "Mirrored", text: area(figures.mirrored_m2), wrong: figures.mirrored_m2 > 0.00005, figure: "mirrored" },
    {
      label: "Open seams",
      text: `${figures.seams_m.toFixed(2)} m, worst gap ${mm(figures.worst_gap_mm)} mm`,
      figure: figures.seams_m > 0.0005 ? "seams" : undefined,
    },
  ];
  return (
    <>
      <Rule>Measured</Rule>
      <dl className={`grid grid-cols-[6.5rem_1fr] gap-y-0.5 ${fresh ? "" : "opacity-40"}`} data-testid="measured">
        {lines.map(({ label, text, wrong, figure }) => (
          <div key={label} className="contents">
            <dt className="label">{label}</dt>
            <dd className={`figure ${wrong ? "text-wrong" : ""}`}>
              {text}
              {figure && (wrong || figure === "seams") && (
                <button type="button" className="ml-2 underline decoration-dotted underline-offset-2" onClick={() => void pick({ how: "replace", figure: { figure, finish: finish.key } })}>
                  pick
                </button>
              )}
            </dd>
          </div>
        ))}
      </dl>
    </>
  );
}

interface BothProps {
  values: [string, string];
  labels: [string, string];
  unit?: string;
  onCommit: (typed: [string | null, string | null]) => Promise<unknown>;
}

function Both({ values, labels, unit, onCommit }: BothProps) {
  return (
    <>
      <NumberField hideLabel label={labels[0]} value={values[0]} unit={unit} className="flex-1" onCommit={(text) => onCommit([text, null])} />
      <span className="label">×</span>
      <NumberField hideLabel label={labels[1]} value={values[1]} unit={unit} className="flex-1" onCommit={(text) => onCommit([null, text])} />
    </>
  );
}

function Line({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className="mb-1.5 grid grid-cols-[5.5rem_1fr] items-center">
      <span className="label">{label}</span>
      <div className="flex min-w-0 items-center gap-1.5">{children}</div>
    </div>
  );
}

function Rule({ children }: { children: string }) {
  return <h3 className="mt-3 mb-1.5 border-b border-rule pb-0.5 font-figure font-semibold">{children}</h3>;
}
