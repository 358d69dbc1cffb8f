import { cameraFrom } from "../model/cameraFrom";
import { put } from "../state";
import { useLook } from "../state/look";
import { attempt } from "../ui/attempt";
import { Button } from "../ui/Button";
import { Line } from "../ui/lines";
import { NumberField } from "../ui/NumberField";
import { mm } from "../ui/numbers";
import { MeasuredMark } from "./MeasuredMark";
import { Troubles } from "./Troubles";
import type { LinesProps, ProjectionPanel } from "./panel";

function Lines({ finish, projection, measured, viewOrigin, views, set }: LinesProps<"camera">) {
  const following = useLook((s) => s.thrownFrom === finish.key);
  const distance = projection.at_mm ?? (measured?.projection?.kind === "camera" ? measured.projection.at_mm : null);
  return (
    <>
      <Line label="Thrown from">
        <Button
          title="From where you look now"
          disabled={following}
          onClick={() => attempt(set(cameraFrom(viewOrigin)))}
        >
          This view
        </Button>
        <Button
          look={following ? "main" : "plain"}
          aria-pressed={following}
          title="Turn the view: the sheet stands still before you, and is laid from wherever you stop"
          onClick={() => put({ thrownFrom: following ? null : finish.key })}
        >
          {following ? "Keep it here" : "Follow the view"}
        </Button>
      </Line>
      {views.length > 0 && (
        <Line label="">
          <select
            aria-label="From a kept view"
            className="h-7 w-full border border-rule bg-sheet px-1"
            value=""
            disabled={following}
            onChange={(event) => {
              const view = views.find(({ key }) => key === event.target.value);
              if (view) attempt(set({ eye_mm: view.position_mm, target_mm: view.target_mm, up: view.up }));
            }}
          >
            <option value="">from a kept view…</option>
            {views.map(({ key, name }) => (
              <option key={key} value={key}>
                {name}
              </option>
            ))}
          </select>
        </Line>
      )}
      <Line label="Sized at">
        <NumberField
          hideLabel
          label="Distance of the sheet"
          value={distance == null ? "" : mm(distance)}
          unit="mm"
          className="w-28"
          onCommit={(at_mm) => set({ at_mm })}
        />
        <MeasuredMark given={projection.at_mm !== null} onMeasure={() => attempt(set({ at_mm: null }))} />
      </Line>
      <Troubles measured={measured} />
    </>
  );
}

export const camera: ProjectionPanel<"camera"> = {
  text: "Camera",
  hint: "Thrown onto the model from one place, as it looks from there: slanted faces, photographs",
  start: {
    kind: "camera",
    eye_mm: [0, -5000, 1600],
    target_mm: [0, 0, 0],
    up: [0, 0, 1],
    at_mm: null,
  },
  fromView: (start, viewOrigin) => ({ ...start, ...cameraFrom(viewOrigin) }),
  byFace: true,
  round: false,
  hasDatum: false,
  fits: [],
  Lines,
};
