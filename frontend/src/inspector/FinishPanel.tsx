import { ArrowDown, ArrowUp, FlipHorizontal2, FlipVertical2, RotateCcw, RotateCw, Trash2 } from "lucide-react";
import { useState } from "react";

import { useDatumDrawing, useEdits, useFigures, useLibrary } from "../api/project";
import type { Edit, Finish, Project, Projection } from "../api/types";
import { useTrials } from "../trials/useTrials";
import { Button } from "../ui/Button";
import { MaterialSelect } from "../ui/MaterialSelect";
import { NumberField } from "../ui/NumberField";
import { Picker } from "../ui/Picker";
import { Swatch } from "../ui/Swatch";
import { useNotices } from "../ui/notices";
import { area, counted, mm, percent, plain } from "../ui/numbers";
import { lookingFrom, useEye } from "../view/eye";
import { usePicking } from "../workbench/usePicking";
import { NOTHING, useWorkbench, withLive } from "../workbench/store";
import { useTurn } from "../workbench/useTurn";
import { DatumLines } from "./DatumLines";
import { GrainLines } from "./GrainLines";
import { Both, Check, Line, Rule } from "./parts";
import { ProjectionLines } from "./ProjectionLines";
import { SetOutLines } from "./SetOutLines";
import { PROJECTIONS, projectionOf } from "./projections";

type Change = Partial<Extract<Edit, { kind: "change" }>>;

/** The finish in hand, or several that are changed alike; figures that differ show as “various”. */
export function FinishPanel({ project, finishes: stored }: { project: Project; finishes: Finish[] }) {
  const { edit, run } = useEdits(project.id);
  const live = useWorkbench((s) => s.live);
  const set = useWorkbench((s) => s.set);
  // What is under the hand shows its numbers here at once.
  const finishes = stored.map((finish) => withLive(finish, live));
  const pick = usePicking(project.id);
  const { data: library = [] } = useLibrary();
  const inHand = useWorkbench((s) => s.pick);
  const compare = useWorkbench((s) => s.compare);
  const [linked, setLinked] = useState(true);
  const turn = useTurn(project);
  const keys = finishes.map((f) => f.key);
  const first = finishes[0]!;
  const only = finishes.length === 1 ? first : null;
  const row = project.finishes.findIndex((f) => f.key === first.key);

  const tell = useNotices((s) => s.tell);
  const tellWrong = (error: unknown) => tell(error instanceof Error ? error.message : String(error));
  const choose = (key?: string) => set({ rows: key ? [key] : [], pick: NOTHING });
  const chooseLast = (after: Project) => choose(after.finishes.at(-1)?.key);
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
  const { data: drawing } = useDatumDrawing(project, only);
  const { data: figures } = useFigures(project);
  const { start } = useTrials(project);
  const others = project.finishes.filter((f) => !keys.includes(f.key));
  const kinds = new Set(finishes.map((f) => f.projection.kind));
  // Rows of one kind are changed alike in the option that is touched, and keep the rest.
  const setOptions = (options: Partial<Projection>) => change({ options });
  const differ = new Set(finishes.map((f) => JSON.stringify(f.projection))).size > 1;

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
        <MaterialSelect
          label="Material of the finish"
          value={shared((f) => f.material)}
          materials={materials}
          first={!only && shared((f) => f.material) === "various" && { value: "various", text: "various" }}
          onChange={(material) => now({ material })}
        />
      </Line>
      {only && (
        <Line label="Compare">
          <MaterialSelect
            label="Compare with another material"
            value={compare?.finish === only.key ? compare.material : ""}
            materials={materials.filter((m) => m.key !== only.material)}
            first={{ value: "", text: "with another, side by side…" }}
            onChange={(material) => set({ compare: material ? { finish: only.key, material, split: 0.5 } : null })}
          />
        </Line>
      )}
      <div className="mt-2 mb-2">
        <Picker
          label="Projection of the finish"
          value={kinds.size === 1 ? first.projection.kind : null}
          onChange={(kind) => {
            const eye = useEye.getState();
            // One datum for the whole pick is fitted anew, as it is seen from here.
            const aimed = finishes.every((f) => f.datum_for === "pick") && eye.camera;
            now({ projection: projectionOf(kind), ...(aimed && { fit: { towards: lookingFrom(eye).towards } }) });
          }}
          options={PROJECTIONS}
        />
      </div>
      {kinds.size === 1 && differ && <p className="mb-1.5 text-faint">The rows differ here. What you change is set for all of them.</p>}
      {kinds.size === 1 && (
        <ProjectionLines
          finish={first}
          measured={drawing}
          closings={only ? (figures?.[only.key]?.closings ?? []) : []}
          materials={materials}
          onChange={setOptions}
        />
      )}
      {only && (
        <Line label="">
          <Button disabled={only.faces === 0} onClick={() => void start(only, only.material)} title="Lays these faces by every projection and shows them side by side">
            Try all projections
          </Button>
        </Line>
      )}

      <Rule>Sheet</Rule>
      <Line label="Turn">
        <NumberField hideLabel label="Turn" value={shared((f) => plain(f.turn_deg))} unit="°" className="w-20" onCommit={(text) => change({ turn_deg: text })} />
        <Button aria-label="Turn by 90 degrees" title="Turn by 90° counter-clockwise; the picked faces alone, where a pick lies within the finish (T)" onClick={() => turn(90)} shortcut="T">
          <RotateCcw size={14} aria-hidden /> 90°
        </Button>
        <Button look="quiet" tight aria-label="Turn back by 90 degrees" title="Turn by 90° clockwise (Shift+T)" onClick={() => turn(-90)}>
          <RotateCw size={14} aria-hidden />
        </Button>
      </Line>
      <Line label="Flip">
        <Button aria-label="Flip along" title="Mirrors the sheet along its width" onClick={() => now({ flip: "along" })}>
          <FlipHorizontal2 size={14} aria-hidden /> along
        </Button>
        <Button aria-label="Flip up" title="Mirrors the sheet along its height" onClick={() => now({ flip: "up" })}>
          <FlipVertical2 size={14} aria-hidden /> up
        </Button>
        {finishes.some((f) => f.scale[0] * f.scale[1] < 0) && <span className="label ml-auto">mirrored</span>}
      </Line>
      <Line label="Repeat">
        <Both values={[shared((f) => mm(f.repeat_mm[0])), shared((f) => mm(f.repeat_mm[1]))]} labels={["Repeat width", "Repeat height"]} unit="mm" onCommit={(repeat_mm) => change({ repeat_mm, linked })} />
      </Line>
      <Line label="Scale">
        <Both values={[shared((f) => plain(f.scale[0], 4)), shared((f) => plain(f.scale[1], 4))]} labels={["Scale along", "Scale up"]} onCommit={([a, b]) => change({ scale: linked ? [a ?? b, b ?? a] : [a, b] })} />
      </Line>
      <Line label="">
        <Check label="keep proportions" checked={linked} onChange={setLinked} />
      </Line>
      <Line label="Offset">
        <Both values={[shared((f) => mm(f.offset_mm[0])), shared((f) => mm(f.offset_mm[1]))]} labels={["Offset along", "Offset up"]} unit="mm" onCommit={(offset_mm) => change({ offset_mm })} />
      </Line>
      <Line label="Tiling">
        <Check
          label="show the sheet once"
          checked={finishes.every((f) => !f.tile)}
          onChange={(once) => now({ tile: !once })}
          hint="Around the one sheet the faces keep what lies beneath"
        />
      </Line>

      {!finishes.some((f) => f.projection.kind === "triplanar") && (
        <GrainLines project={project} finishes={finishes} change={change} now={now} />
      )}
      <SetOutLines project={project} finishes={finishes} now={now} />

      {only && <DatumLines project={project} finish={only} change={change} now={now} />}

      <Rule>Laid on</Rule>
      <p className="mb-2">
        <span className="first-letter:uppercase">{only ? only.pick_words : counted(finishes.reduce((n, f) => n + f.faces, 0), "face")}</span>
        {only && only.faces === 0 && (
          <span className="text-wrong"> – {only.held ? "all of it covered by later rows" : "the model has none of these faces"}</span>
        )}
      </p>
      {only && (
        <>
          <div className="mb-1.5 flex flex-wrap gap-1.5">
            <Button onClick={() => void pick({ how: "replace", figure: { figure: "covered", finish: only.key } })}>Pick these faces</Button>
            <Button disabled={inHand.faces === 0} title="The finish covers the faces picked now" onClick={() => now({ pick: inHand.rule })}>
              Use the pick
            </Button>
          </div>
          <div className="mb-1.5 flex flex-wrap gap-1.5">
            <Button
              disabled={inHand.faces === 0}
              title="Lays this material on the picked faces, placed just as here, so that the pattern runs on"
              onClick={() =>
                void edit({ kind: "lay", material: only.material, pick: inHand.rule, projection: only.projection, like: only.key }).then(chooseLast, tellWrong)
              }
            >
              Lay the same on the pick
            </Button>
            <Button
              disabled={inHand.faces === 0}
              title="Gives the picked faces of this finish a projection of their own"
              onClick={() =>
                void edit({ kind: "split", finish: only.key, pick: inHand.rule, projection: projectionOf(only.projection.kind) }).then(
                  (after) => choose(after.finishes[row + 1]?.key),
                  tellWrong,
                )
              }
            >
              Own projection
            </Button>
          </div>
        </>
      )}
      {others.length > 0 && (
        <Line label="Placed like">
          <select
            aria-label="Take the placement of another finish"
            className="h-7 w-full border border-rule bg-sheet px-1.5"
            value=""
            onChange={(event) => event.target.value && now({ like: event.target.value })}
          >
            <option value="">take over from…</option>
            {others.map((f) => (
              <option key={f.key} value={f.key}>
                {f.key} {f.name}
              </option>
            ))}
          </select>
        </Line>
      )}
      {only && <Measured project={project} finish={only} />}
    </section>
  );
}

function Measured({ project, finish }: { project: Project; finish: Finish }) {
  const { data } = useFigures(project);
  const pick = usePicking(project.id);
  const figures = data?.[finish.key];
  if (!figures || finish.faces === 0) return null;
  const fresh = figures.laying_key === finish.laying_key;
  const repeats = (finish.area_m2 * 1e6) / (finish.repeat_mm[0] * finish.repeat_mm[1]);
  const unit = project.materials[finish.material]?.joints?.unit_mm;
  const sized = unit && [0, 1].map((k) => unit[k] && unit[k]! * Math.abs(finish.scale[k]!));
  const perSquare = sized?.[0] && sized[1] ? `, ${plain(1e6 / (sized[0] * sized[1]), 1)} units a m²` : "";
  const lines: { label: string; text: string; wrong?: boolean; figure?: "untrue" | "smeared" | "mirrored" | "seams" }[] = [
    { label: "Area", text: `${area(finish.area_m2)} on ${counted(finish.faces, "face")}` },
    {
      label: "Repeats",
      text: finish.tile ? `${plain(repeats, repeats < 10 ? 1 : 0)} of them${perSquare}` : `one sheet, ${percent(Math.min(repeats, 1))} of it on the model`,
    },
    {
      label: "True to scale",
      text: `${percent(figures.true_share)} of the area`,
      wrong: figures.true_share < 0.8,
      figure: figures.true_share < 0.9995 ? "untrue" : undefined,
    },
    { label: "Stretch", text: `${percent(figures.least_stretch)} to ${percent(figures.greatest_stretch)}` },
    { label: "Smeared", text: area(figures.smeared_m2), wrong: figures.smeared_m2 > 0.00005, figure: "smeared" },
    { label: "Mirrored", text: area(figures.mirrored_m2), wrong: figures.mirrored_m2 > 0.00005, figure: "mirrored" },
    {
      label: "Open seams",
      text: `${figures.seams_m.toFixed(2)} m, worst gap ${mm(figures.worst_gap_mm)} mm`,
      figure: figures.seams_m > 0.0005 ? "seams" : undefined,
    },
    ...(figures.joints_m > 0.0005 ? [{ label: "Joints run on", text: `${figures.joints_m.toFixed(2)} m, with another image beyond` }] : []),
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
              {figure && (wrong || figure === "seams" || figure === "untrue") && (
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
