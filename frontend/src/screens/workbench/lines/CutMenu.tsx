import { quantity } from "../../../api/quantity";
import type { Clip, Project } from "../../../api/wire.gen";
import { Button } from "../../../ui/Button";
import { Choice } from "../../../ui/Choice";
import { Flyout } from "../../../ui/Flyout";
import { NumberField } from "../../../ui/NumberField";
import { mm } from "../../../ui/numbers";
import { put } from "../../../state";
import { useLook } from "../../../state/look";

const AXES = [
  { value: "x" as const, text: "Across X" },
  { value: "y" as const, text: "Across Y" },
  { value: "z" as const, text: "Level (Z)" },
];

/** Cuts the model open with a plane, to look inside. */
export function CutMenu({ project }: { project: Project }) {
  const clip = useLook((s) => s.clip);
  const [low, high] = project.model.bounds_mm;
  const index = clip ? "xyz".indexOf(clip.axis) : 2;
  const middle = (axis: Clip["axis"]) => {
    const k = "xyz".indexOf(axis);
    return (low[k]! + high[k]!) / 2;
  };
  const change = (what: Partial<Clip>) => clip && put({ clip: { ...clip, ...what } });
  return (
    <Flyout
      text={clip ? `Cut at ${clip.axis} ${mm(clip.at_mm)} mm` : "Cut open"}
      label="Cut"
      title="Cuts the model open to look inside"
      look={clip ? "main" : "quiet"}
      className="w-80"
    >
      {!clip ? (
        <Button look="main" onClick={() => put({ clip: { axis: "z", at_mm: middle("z"), flipped: false } })}>
          Cut the model open
        </Button>
      ) : (
        <div className="grid gap-2.5">
          <div>
            <Choice
              label="Cut plane"
              value={clip.axis}
              onChange={(axis) => change({ axis, at_mm: middle(axis) })}
              options={AXES}
            />
          </div>
          <input
            type="range"
            aria-label="Where it cuts"
            min={low[index]}
            max={high[index]}
            step="any"
            value={clip.at_mm}
            onChange={(event) => change({ at_mm: Number(event.target.value) })}
            className="w-full accent-hand"
          />
          <div className="flex items-end gap-2">
            <NumberField
              label="At"
              value={mm(clip.at_mm)}
              unit="mm"
              className="w-32"
              onCommit={async (text) => {
                change({ at_mm: await quantity(text, "length") });
              }}
            />
            <Button onClick={() => change({ flipped: !clip.flipped })}>Other side</Button>
            <Button onClick={() => put({ clip: null })}>No cut</Button>
          </div>
        </div>
      )}
    </Flyout>
  );
}
