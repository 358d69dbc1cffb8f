import { useDatumDrawing, useFigures, useLibrary } from "../../../api/project";
import type { Finish, Options, Project } from "../../../api/wire.gen";
import { ProjectionLines } from "../../../projections/ProjectionLines";
import { panelOf, PROJECTION_CHOICES, projectionOf } from "../../../projections/registry";
import { put } from "../../../state";
import { useLook } from "../../../state/look";
import { Button } from "../../../ui/Button";
import { Line } from "../../../ui/lines";
import { MaterialSelect } from "../../../ui/MaterialSelect";
import { Picker } from "../../../ui/Picker";
import { lookingFrom, useEye } from "../../../model/eye";
import { useTrials } from "../trials/useTrials";
import { useTurn } from "../useTurn";
import { sharedBy, useChanging, type Changing } from "./changing";
import { DatumLines } from "./DatumLines";
import { FinishHead } from "./FinishHead";
import { GrainLines } from "./GrainLines";
import { LaidOnLines } from "./LaidOnLines";
import { Measured } from "./Measured";
import { SetOutLines } from "./SetOutLines";
import { SheetLines } from "./SheetLines";

interface Props {
  project: Project;
  finishes: Finish[];
}

/** The finish in hand, or several that are changed alike; figures that differ show as “various”. */
export function FinishPanel({ project, finishes }: Props) {
  const changing = useChanging(
    project.id,
    finishes.map((f) => f.key),
  );
  const turn = useTurn(project);
  const only = finishes.length === 1 ? finishes[0]! : null;
  const byFace = finishes.every((f) => panelOf(f.projection.kind).byFace);
  return (
    <section aria-label="Finish" className="border-t border-ink/70 px-4 py-3">
      <FinishHead project={project} finishes={finishes} />
      <MaterialSection project={project} finishes={finishes} {...changing} />
      <SheetLines finishes={finishes} turn={turn} {...changing} />
      {byFace && <GrainLines project={project} finishes={finishes} {...changing} />}
      {byFace && <SetOutLines project={project} finishes={finishes} now={changing.now} />}
      {only && <DatumLines project={project} finish={only} {...changing} />}
      <LaidOnLines project={project} finishes={finishes} now={changing.now} />
      {only && <Measured project={project} finish={only} />}
    </section>
  );
}

/** The material, the projection and its options. */
function MaterialSection({ project, finishes, change, now }: Props & Changing) {
  const { data: library = [] } = useLibrary();
  const first = finishes[0]!;
  const only = finishes.length === 1 ? first : null;
  const { data: drawing } = useDatumDrawing(project, only);
  const { data: figures } = useFigures(project);
  const { start } = useTrials(project);
  const compare = useLook((s) => s.compare);
  const materials = [...Object.values(project.materials), ...library.filter((m) => !(m.key in project.materials))];
  const material = sharedBy(finishes, (f) => f.material);
  const kinds = new Set(finishes.map((f) => f.projection.kind));
  const differ = new Set(finishes.map((f) => JSON.stringify(f.projection))).size > 1;
  return (
    <>
      <Line label="Material">
        <MaterialSelect
          label="Material of the finish"
          value={material}
          materials={materials}
          first={material === "various" && { value: "various", text: "various" }}
          onChange={(key) => now({ kind: "set_material", material: key })}
        />
      </Line>
      {only && (
        <Line label="Compare">
          <MaterialSelect
            label="Compare with another material"
            value={compare?.finish === only.key ? compare.material : ""}
            materials={materials.filter((m) => m.key !== only.material)}
            first={{ value: "", text: "with another, side by side…" }}
            onChange={(key) => put({ compare: key ? { finish: only.key, material: key, split: 0.5 } : null })}
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
            const aim = aimed ? { towards: lookingFrom(eye).towards } : null;
            now({ kind: "set_projection", projection: projectionOf(kind), aim });
          }}
          options={PROJECTION_CHOICES}
        />
      </div>
      {kinds.size === 1 && differ && (
        <p className="mb-1.5 text-faint">The rows differ here. What you change is set for all of them.</p>
      )}
      {kinds.size === 1 && (
        <ProjectionLines
          finish={first}
          measured={drawing}
          closings={only ? (figures?.[only.key]?.closings ?? []) : []}
          materials={materials}
          // Rows of one kind are changed alike in the option that is touched, and keep the rest.
          onChange={(options: Options) => change({ kind: "set_options", options })}
        />
      )}
      {only && (
        <Line label="">
          <Button
            disabled={only.faces === 0}
            onClick={() => start(only, only.material)}
            title="Lays these faces by every projection and shows them side by side"
          >
            Try all projections
          </Button>
        </Line>
      )}
    </>
  );
}
