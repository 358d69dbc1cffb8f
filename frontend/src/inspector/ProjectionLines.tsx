import { quantity } from "../api/quantity";
import type { DatumDrawing, Finish, LibraryMaterial, Material, Projection, Triple } from "../api/types";
import { Choice } from "../ui/Choice";
import { MaterialSelect } from "../ui/MaterialSelect";
import { NumberField } from "../ui/NumberField";
import { mm, plain } from "../ui/numbers";
import { Check, Line } from "./parts";

interface Props {
  finish: Finish;
  /** As it was measured: radius and size where they are left open. */
  measured?: DatumDrawing;
  closings: number[];
  materials: (Material | LibraryMaterial)[];
  onChange: (options: Partial<Projection>) => Promise<unknown>;
}

/** The options of the projection in hand. */
export function ProjectionLines({ finish, measured, closings, materials, onChange }: Props) {
  const p = finish.projection;
  const set = onChange;
  const now = (change: Partial<Projection>) => void set(change).catch(() => undefined);
  switch (p.kind) {
    case "planar":
      return (
        <Line label="Backs">
          <Choice
            label="Backs"
            value={p.backs}
            onChange={(backs) => now({ backs })}
            options={[
              { value: "through", text: "Through", hint: "Faces that look away are laid through, and so mirrored" },
              { value: "unmirrored", text: "Unmirrored", hint: "Faces that look away are laid the right way round" },
            ]}
          />
        </Line>
      );
    case "box": {
      const size = p.size_mm ?? (measured?.projection?.kind === "box" ? measured.projection.size_mm : null);
      return (
        <>
          <Line label="Corners">
            <Choice
              label="Corners"
              value={p.corners}
              onChange={(corners) => now({ corners, size_mm: null })}
              options={[
                { value: "separate", text: "Separate", hint: "Each side measures from the datum on its own" },
                { value: "wrapped", text: "Wrapped", hint: "The pattern runs on round the four upright corners" },
              ]}
            />
          </Line>
          {p.corners === "wrapped" && size && (
            <Line label="Wrapped size">
              {([0, 1] as const).map((axis) => (
                <NumberField
                  key={axis}
                  hideLabel
                  label={`Wrapped size ${"xy"[axis]}`}
                  value={mm(size[axis])}
                  unit="mm"
                  className="flex-1"
                  onCommit={async (text) => {
                    const next: Triple = [...size];
                    next[axis] = await quantity(text, "length");
                    await set({ size_mm: next });
                  }}
                />
              ))}
              <Measured given={p.size_mm !== null} onMeasure={() => now({ size_mm: null })} />
            </Line>
          )}
        </>
      );
    }
    case "cylindrical":
      return (
        <>
          <Radius projection={p} measured={measured} set={set} />
          <Line label="Caps">
            <Check label="laid flat" checked={p.caps} onChange={(caps) => now({ caps })} hint="Faces that look along the axis are laid flat instead of rolled" />
            {p.caps && (
              <>
                <span className="label ml-auto">within</span>
                <NumberField
                  hideLabel
                  label="Cap angle"
                  value={plain(p.cap_angle_deg)}
                  unit="°"
                  className="w-16"
                  onCommit={async (text) => set({ cap_angle_deg: await quantity(text, "angle") })}
                />
              </>
            )}
          </Line>
          <Line label="Round">
            <Check
              label="whole repeats"
              checked={p.whole_repeats}
              onChange={(whole_repeats) => now({ whole_repeats })}
              hint="Sizes the sheet along so that a whole number of repeats closes the circle"
            />
            {closings.length > 0 && <span className="figure ml-auto text-faint">scaled along by {closings.map((k) => plain(k, 4)).join(", ")}</span>}
          </Line>
        </>
      );
    case "spherical":
      return <Radius projection={p} measured={measured} set={set} />;
    case "triplanar":
      return (
        <>
          <Line label="Blend">
            <NumberField hideLabel label="Blend" value={plain(p.blend, 3)} className="w-20" onCommit={async (text) => set({ blend: await quantity(text, "share") })} />
            <span className="label">0 is sharp, 1 is widest</span>
          </Line>
          <Line label="Backs">
            <Choice
              label="Backs"
              value={p.backs}
              onChange={(backs) => now({ backs })}
              options={[
                { value: "unmirrored", text: "Unmirrored", hint: "Both sides of an axis are laid the right way round" },
                { value: "mirrored", text: "Mirrored", hint: "Both sides of an axis take the plus side's laying" },
              ]}
            />
          </Line>
          {(["x", "y", "z"] as const).map((axis) => (
            <Line key={axis} label={`Along ${axis}`}>
              <MaterialSelect
                label={`Material along ${axis}`}
                value={p.materials[axis] ?? ""}
                materials={materials}
                first={{ value: "", text: "the finish’s own" }}
                onChange={(key) => now({ materials: { ...p.materials, [axis]: key || null } })}
              />
            </Line>
          ))}
        </>
      );
  }
}

interface RadiusProps {
  projection: Extract<Projection, { radius_mm: number | null }>;
  measured?: DatumDrawing;
  set: (change: Partial<Projection>) => Promise<unknown>;
}

function Radius({ projection, measured, set }: RadiusProps) {
  const found = measured?.projection && "radius_mm" in measured.projection ? measured.projection.radius_mm : null;
  const radius = projection.radius_mm ?? found;
  return (
    <Line label="Radius">
      <NumberField
        hideLabel
        label="Radius"
        value={radius === null ? "each its own" : mm(radius)}
        unit={radius === null ? undefined : "mm"}
        className="w-28"
        onCommit={async (text) => set({ radius_mm: await quantity(text, "length") })}
      />
      <Measured given={projection.radius_mm !== null} onMeasure={() => void set({ radius_mm: null }).catch(() => undefined)} />
    </Line>
  );
}

/** Whether a size was measured off the faces; one that was given can be measured again. */
function Measured({ given, onMeasure }: { given: boolean; onMeasure: () => void }) {
  if (!given) return <span className="label ml-auto">measured</span>;
  return (
    <button type="button" className="label ml-auto underline decoration-dotted underline-offset-2 hover:text-ink" onClick={onMeasure}>
      given; measure it
    </button>
  );
}
