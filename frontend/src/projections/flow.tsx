import { attempt } from "../ui/attempt";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Check, Line } from "../ui/lines";
import { NumberField } from "../ui/NumberField";
import { plain } from "../ui/numbers";
import { MeasuredLine } from "./MeasuredLine";
import { MeasuredMark } from "./MeasuredMark";
import { StrokeLines } from "./StrokeLines";
import { Troubles } from "./Troubles";
import type { LinesProps, OptionsOf, ProjectionPanel } from "./panel";

type Props = LinesProps<"flow">;

const FORMS: Record<string, string> = {
  strip: "between four borders",
  ring: "round between two borders",
  tube: "from end to end",
  flat: "flat, without corners",
};

function Lines(props: Props) {
  const { projection, measured, set } = props;
  const frames = measured?.frames ?? [];
  return (
    <>
      <Line label="Borders">
        <Button
          title="The sheet begins at the next border, counter-clockwise; or click a border on the model"
          onClick={() => attempt(set({ shift: (projection.shift + 1) % 4 }))}
        >
          Next border
        </Button>
        <MeasuredMark
          given={projection.corners !== null}
          found="corners found"
          again="placed; find them"
          onMeasure={() => attempt(set({ corners: null, shift: 0 }))}
        />
      </Line>
      <Line label="Holds">
        <Choice
          label="What the flow holds"
          value={projection.hold}
          onChange={(hold) => attempt(set({ hold }))}
          options={[
            {
              value: "size",
              text: "Size",
              hint: "The material keeps its size and runs straight from border to border",
            },
            { value: "borders", text: "Borders", hint: "Whole repeats are stretched exactly onto the borders" },
          ]}
        />
      </Line>
      {projection.hold === "borders" ? <Stretched {...props} /> : <Sized {...props} />}
      {frames.length > 0 && (
        <p className="mb-2 text-faint" data-testid="flow-form">
          {frames.length === 1 ? `Runs ${FORMS[frames[0]!.form] ?? ""}.` : `${frames.length} pieces, each by itself.`}
        </p>
      )}
      <Troubles measured={measured} lead="Not laid: " />
    </>
  );
}

/** How much of the sheet lies along and across: as much as there is, or as stated. */
function Sized({ finish, projection, measured, set }: Props) {
  const frames = measured?.frames ?? [];
  const found = frames.length === 1 ? frames[0]!.size_mm : null;
  const limit = (k: 0 | 1, value: string | null) => {
    const limits_mm: NonNullable<OptionsOf<"flow">["limits_mm"]> = [...projection.limits_mm];
    limits_mm[k] = value;
    return set({ limits_mm });
  };
  return (
    <>
      {(["Along", "Across"] as const).map((label, way) => {
        const k = way as 0 | 1;
        return (
          <MeasuredLine
            key={label}
            label={label}
            field={`Sheet ${label.toLowerCase()}`}
            given={projection.limits_mm[k]}
            found={found?.[k]}
            set={(text) => limit(k, text)}
          />
        );
      })}
      <StrokeLines finish={finish} projection={projection} set={set} />
      <Line label="Round">
        <Check
          label="whole repeats"
          checked={projection.whole_repeats}
          onChange={(whole_repeats) => attempt(set({ whole_repeats }))}
          hint="What goes once round a ring or a tube is a whole number of repeats, so that it closes"
        />
      </Line>
    </>
  );
}

/** Whole repeats from border to border. */
function Stretched({ projection, set }: Props) {
  const repeats = projection.repeats ?? [1, 1];
  const count = (k: 0 | 1, text: string) => {
    const next: [number, number] = [...repeats];
    next[k] = Number(text);
    return set({ repeats: next });
  };
  return (
    <>
      <Line label="Repeats">
        <NumberField
          hideLabel
          label="Repeats along"
          value={plain(repeats[0])}
          className="flex-1"
          onCommit={(text) => count(0, text)}
        />
        <span className="label">×</span>
        <NumberField
          hideLabel
          label="Repeats across"
          value={plain(repeats[1])}
          className="flex-1"
          onCommit={(text) => count(1, text)}
        />
      </Line>
      <Line label="Proportion">
        <Choice
          label="Proportion"
          value={projection.proportion}
          onChange={(proportion) => attempt(set({ proportion }))}
          options={[
            { value: "free", text: "Free", hint: "The repeats fill the borders both ways" },
            { value: "along", text: "By length", hint: "They fill the length; across they keep their proportion" },
            { value: "across", text: "By width", hint: "They fill the width; along they keep their proportion" },
          ]}
        />
      </Line>
    </>
  );
}

export const flow: ProjectionPanel<"flow"> = {
  text: "Flow",
  hint: "Runs between two borders and follows the surface: bent roofs, roads, winding walls, rails",
  start: {
    kind: "flow",
    corners: null,
    shift: 0,
    hold: "size",
    repeats: null,
    proportion: "free",
    limits_mm: [null, null],
    whole_repeats: false,
    start: null,
    lines: [],
    reach: 0.25,
  },
  byFace: true,
  round: false,
  hasDatum: false,
  fits: [],
  Lines,
};
