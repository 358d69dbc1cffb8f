import { useRoundness } from "../../../api/project";
import type { Aim, Finish, ModelAxis, Project } from "../../../api/wire.gen";
import { withKey } from "../../../commands/registry";
import { useUnderHand } from "../../../state/hand";
import { Button } from "../../../ui/Button";
import { Choice } from "../../../ui/Choice";
import { Menu, type MenuItem } from "../../../ui/Menu";
import { NumberField } from "../../../ui/NumberField";
import { mm, percent, plain } from "../../../ui/numbers";
import { lookingFrom, useEye } from "../../../model/eye";
import { Check, Line } from "../../../ui/lines";
import { put } from "../../../state";
import { useLook } from "../../../state/look";
import { panelOf } from "../../../projections/registry";
import type { FitOffer } from "../../../projections/panel";
import type { Changing } from "./changing";

interface Props extends Changing {
  project: Project;
  finish: Finish;
}

/** Where the projection measures from, what it is fitted to, and where its seam falls. */
export function DatumLines({ project, finish, change, now }: Props) {
  const { datum } = finish;
  const { round } = panelOf(finish.projection.kind);
  const task = (what: "fit-face" | "seam") => put({ task: { finish: finish.key, what } });
  const view = () => lookingFrom(useEye.getState());
  // A seam falls where it is not seen from here, and a sheet looks this way.
  const fit = (aim: Aim) =>
    now({ kind: "fit_datum", aim: aim.to === "view" ? aim : { ...aim, towards: view().towards } });

  return (
    <>
      <Line label="One for each">
        <Choice
          label="One datum for"
          value={finish.datum_for}
          onChange={(datum_for) => now({ kind: "set_datum_for", datum_for })}
          options={[
            { value: "pick", text: "pick", hint: "One datum for all faces of the finish" },
            { value: "part", text: "part", hint: "Every part has a datum of its own, fitted to it" },
            {
              value: "side",
              text: "side",
              hint: "Every flat side has a datum of its own: sloped plinths, hipped roofs",
            },
            { value: "board", text: "board", hint: "Every connected piece is measured along its own tightest box" },
          ]}
        />
      </Line>
      {datum ? (
        <>
          <DatumFigures finish={finish} round={round} change={change} />
          <Line label="Turn about">
            {(["x", "y", "z"] as const).map((axis) => (
              <label key={axis} className="flex flex-1 items-center gap-1">
                <span className="label">{axis}</span>
                <NumberField
                  hideLabel
                  label={`Turn the datum about ${axis}`}
                  value="0"
                  unit="°"
                  className="flex-1"
                  onCommit={(text) => change({ kind: "turn_datum", axis, turn_by: text })}
                />
              </label>
            ))}
          </Line>
        </>
      ) : (
        <p className="mb-2 text-faint">
          Each {finish.datum_for} is measured from its own datum. Make it one for the whole pick to move it.
        </p>
      )}
      <Line label="Fit">
        <Button title="Place the projection anew, to suit the faces it is laid on" onClick={() => fit({})}>
          To the pick
        </Button>
        <Menu
          text="To…"
          title="Other things to fit the datum to"
          items={fits(finish, fit, () => task("fit-face"), view)}
        />
      </Line>
      {round && datum && (
        <Line label="Seam">
          <Button
            title="Turn the seam to the side that is not seen from here"
            onClick={() => now({ kind: "turn_seam", away_from: view().towards })}
          >
            Out of view
          </Button>
          <Button title="Then click where the seam shall run" onClick={() => task("seam")}>
            To an edge…
          </Button>
        </Line>
      )}
      {round && finish.datum_for === "pick" && <Roundness project={project} finish={finish} />}
    </>
  );
}

/** Where the datum lies, now, while it is dragged too. */
function DatumFigures({
  finish: stored,
  round,
  change,
}: { finish: Finish; round: boolean } & Pick<Changing, "change">) {
  const datumShown = useLook((s) => s.datumShown);
  const { datum } = useUnderHand([stored], "datum")[0]!;
  if (!datum) return null;
  return (
    <>
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
              return change({ kind: "set_datum", datum: { ...datum, origin_mm: origin } });
            }}
          />
        ))}
      </Line>
      <Line label={round ? "Axis along" : "Looks along"}>
        <span className="figure flex-1" data-testid="looks-along">
          ({datum.z_axis.map((v) => plain(v, 3)).join(", ")})
        </span>
        <Check
          label="drawn"
          checked={datumShown}
          onChange={(on) => put({ datumShown: on })}
          hint={withKey("Draw the datum on the model", "datum")}
        />
      </Line>
    </>
  );
}

function fits(finish: Finish, fit: (aim: Aim) => void, onFace: () => void, view: () => Pick<Aim, "towards" | "right">) {
  const along = (axis: ModelAxis) => ({ text: `The model’s ${axis} axis`, onSelect: () => fit({ to: "axis", axis }) });
  const offers: Record<FitOffer, MenuItem[]> = {
    face: [{ text: "A face…", hint: "Then click the face that it shall look at", onSelect: onFace }],
    view: [
      { text: "The view", hint: "Straight from where you look now", onSelect: () => fit({ to: "view", ...view() }) },
    ],
    edge: [
      {
        text: "The longest straight edge",
        hint: "Its x axis runs along that edge",
        onSelect: () => fit({ along_edge: true }),
      },
    ],
    box: [
      {
        text: "Its tightest box",
        hint: "The oriented box that just holds the pick",
        onSelect: () => fit({ to: "box" }),
      },
    ],
    axes: (["+x", "-x", "+y", "-y", "+z", "-z"] as const).map(along),
    "upright axes": (["+z", "+x", "+y"] as const).map(along),
  };
  return panelOf(finish.projection.kind).fits.flatMap((offer) => offers[offer]);
}

function Roundness({ project, finish }: { project: Project; finish: Finish }) {
  const { data } = useRoundness(project, finish);
  if (!data || data.residual_mm === null || data.radius_mm === null) return null;
  const shape =
    finish.projection.kind === "spherical"
      ? "sphere"
      : data.half_angle_deg > 0
        ? `cone, half angle ${plain(data.half_angle_deg, 1)}°`
        : "cylinder";
  const off = Number(data.residual_mm.toPrecision(3));
  return (
    <p className="figure text-faint" data-testid="roundness">
      {data.share > 0.995 ? "The pick" : `${percent(data.share)} of the pick`} is{" "}
      {off < 0.01 ? "a true" : `within ${mm(off)} mm of a`} {shape}
      {data.half_angle_deg === 0 && ` of R ${mm(data.radius_mm)}`}
      {data.share > 0.995 ? "." : "; the rest stands off it."}
    </p>
  );
}
