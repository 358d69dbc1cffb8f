import { quantity } from "../../../api/quantity";
import { put } from "../../../state";
import { LIGHT_START, useLook, type Light } from "../../../state/look";
import { usePanes } from "../../../state/panes";
import { Button } from "../../../ui/Button";
import { Choice } from "../../../ui/Choice";
import { Flyout } from "../../../ui/Flyout";
import { withoutCard } from "../../../view/graphicsCard";
import { NumberField } from "../../../ui/NumberField";
import { plain } from "../../../ui/numbers";

const WITHOUT_CARD =
  "This browser draws without a graphics card: the view is drawn plainly, without smooth edges or contact shadows, and coarsely while it moves; saved pictures can have the shadows";

/** Where the sun stands over the model, or an overcast sky; and how finely it is drawn. */
export function LightMenu() {
  const light = useLook((s) => s.light);
  const quality = usePanes((s) => s.quality);
  const told = withoutCard() && quality === "by itself" ? WITHOUT_CARD : null;
  const change = (what: Partial<Light>) => put({ light: { ...light, ...what } });
  return (
    <Flyout
      text={light.overcast ? "Overcast" : `Sun ${plain(light.sun_deg, 0)}°`}
      label="Light"
      title={told ?? "The light that the model stands in"}
      className="grid w-80 gap-2.5"
    >
      <div>
        <Choice
          label="Sky"
          value={light.overcast ? "overcast" : "clear"}
          onChange={(sky) => change({ overcast: sky === "overcast" })}
          options={[
            { value: "clear", text: "Clear sky and sun" },
            { value: "overcast", text: "Overcast" },
          ]}
        />
      </div>
      {!light.overcast && (
        <>
          <Angle label="From" name="sun_deg" light={light} low={0} high={359} change={change} />
          <Angle label="Height" name="up_deg" light={light} low={5} high={85} change={change} />
          <p className="label">
            From: counter-clockwise from the model’s x axis, as seen from above. Height: above the horizon.
          </p>
        </>
      )}
      <div className="border-t border-rule pt-2">
        <span className="label block">The picture</span>
        <Choice
          label="The picture"
          value={quality}
          onChange={(value) => put({ quality: value })}
          options={[
            { value: "by itself", text: "By itself", hint: "Fine where there is a graphics card" },
            { value: "fine", text: "Fine", hint: "With contact shadows, a moment after the view has come to rest" },
            { value: "plain", text: "Plain", hint: "Without contact shadows" },
          ]}
        />
        {told && <p className="label mt-1.5">{told}.</p>}
      </div>
      <div>
        <Button onClick={() => put({ light: LIGHT_START })}>As it was at first</Button>
      </div>
    </Flyout>
  );
}

interface AngleProps {
  label: string;
  name: "sun_deg" | "up_deg";
  light: Light;
  low: number;
  high: number;
  change: (what: Partial<Light>) => void;
}

function Angle({ label, name, light, low, high, change }: AngleProps) {
  const take = async (text: string) => {
    const typed = await quantity(text, "angle");
    const turned = name === "sun_deg" ? ((typed % 360) + 360) % 360 : typed;
    if (!(turned >= low && turned < high + 1)) throw new Error(`this angle is from ${low} to ${high} degrees`);
    change({ [name]: turned });
  };
  return (
    <div className="flex items-end gap-3">
      <NumberField label={label} value={plain(light[name], 0)} unit="°" onCommit={take} className="w-20" />
      <input
        type="range"
        aria-label={`${label}, by hand`}
        min={low}
        max={high}
        step={1}
        value={light[name]}
        onChange={(event) => change({ [name]: Number(event.target.value) })}
        className="mb-1.5 flex-1 accent-hand"
      />
    </div>
  );
}
