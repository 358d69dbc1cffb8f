import { useDatumDrawing, useFigures, useMaterials } from "../../../api/project";
import type { Finish, Options, Project } from "../../../api/wire.gen";
import { lookingFrom, useEye } from "../../../model/eye";
import { ProjectionLines } from "../../../projections/ProjectionLines";
import { PROJECTION_CHOICES, projectionOf } from "../../../projections/registry";
import { Button } from "../../../ui/Button";
import { Line } from "../../../ui/lines";
import { Picker } from "../../../ui/Picker";
import { useTrials } from "../trials/useTrials";
import type { Changing } from "./changing";

interface Props extends Changing {
  project: Project;
  finishes: Finish[];
}

/** The projection of the finishes, and its options. */
export function ProjectionChoice({ project, finishes, change, now }: Props) {
  const first = finishes[0]!;
  const only = finishes.length === 1 ? first : null;
  const { data: drawing } = useDatumDrawing(project, only);
  const { data: figures } = useFigures(project);
  const { start } = useTrials(project);
  const materials = useMaterials(project);
  const kinds = new Set(finishes.map((f) => f.projection.kind));
  const differ = new Set(finishes.map((f) => JSON.stringify(f.projection))).size > 1;
  return (
    <>
      <div className="mb-2">
        <Picker
          label="Projection of the finish"
          value={kinds.size === 1 ? first.projection.kind : null}
          onChange={(kind) => {
            const eye = useEye.getState();
            // One datum for the whole pick is fitted anew, as it is seen from here.
            const aimed = finishes.every((f) => f.datum_for === "pick") && eye.camera;
            const aim = aimed ? { towards: lookingFrom(eye).towards } : null;
            now({ kind: "set_projection", projection: projectionOf(kind, project.model.view_origin_mm), aim });
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
          viewOrigin={project.model.view_origin_mm}
          views={project.views}
          // Rows of one kind are changed alike in the option that is touched, and keep the rest.
          onChange={(options: Options) => change({ kind: "set_options", options })}
          keepCuts={() => change({ kind: "keep_cuts" })}
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
