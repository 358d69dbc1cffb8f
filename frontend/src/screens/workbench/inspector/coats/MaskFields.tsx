import type { Mask, Material, LibraryMaterial, Triple } from "../../../../api/wire.gen";
import { MASK_PANELS, type MaskField, type MaskKind } from "../../../../coats/maskKinds";
import { CHANNELS } from "../../../../looks/channels";
import { attempt } from "../../../../ui/attempt";
import { Choice } from "../../../../ui/Choice";
import { Line } from "../../../../ui/lines";
import { MaterialSelect } from "../../../../ui/MaterialSelect";
import { NumberField } from "../../../../ui/NumberField";
import { mm, plain } from "../../../../ui/numbers";
import { readDegrees, readMm, readUnit } from "./typed";

interface Props {
  kind: MaskKind;
  stated: Record<string, unknown>;
  materials: (Material | LibraryMaterial)[];
  /** Sends the mask as it shall be. */
  set: (mask: Mask) => Promise<unknown>;
}

const AXES = ["x", "y", "z"];

/** The six directions of the model's axes. */
const WAYS: [string, Triple][] = [
  ["up", [0, 0, 1]],
  ["down", [0, 0, -1]],
  ["+x", [1, 0, 0]],
  ["−x", [-1, 0, 0]],
  ["+y", [0, 1, 0]],
  ["−y", [0, -1, 0]],
];

/** The numbers of one mask, each sent when it is typed. */
export function MaskFields({ kind, stated, materials, set }: Props) {
  const send = (key: string, value: unknown) => set({ [kind]: { ...stated, [key]: value } } as unknown as Mask);
  return (
    <>
      {kind === "image" && (
        <Line label="Material">
          <MaterialSelect
            label="Material of the mask"
            value={String(stated.material)}
            materials={materials}
            onChange={(key) => attempt(send("material", key))}
          />
        </Line>
      )}
      {MASK_PANELS[kind].fields.map((field) => (
        <Line key={`${field.key}${field.at ?? ""}`} label={field.label}>
          <Field field={field} stated={stated} send={send} />
        </Line>
      ))}
    </>
  );
}

interface FieldProps {
  field: MaskField;
  stated: Record<string, unknown>;
  send: (key: string, value: unknown) => Promise<unknown>;
}

function Field({ field, stated, send }: FieldProps) {
  const { key, at, label, as } = field;
  const held = stated[key];
  if (as === "place") return <PlaceField label={label} place={held as Triple} send={(place) => send(key, place)} />;
  if (as === "direction") {
    return <DirectionField label={label} way={held as Triple} onChange={(way) => attempt(send(key, way))} />;
  }
  if (as === "channel" || Array.isArray(as)) {
    const options =
      as === "channel"
        ? CHANNELS.filter((c) => c.channel !== "normal").map(({ channel, text }) => ({
            value: channel,
            text,
          }))
        : as;
    if (options.length > 3) {
      return (
        <select
          aria-label={label}
          className="h-7 w-full border border-rule bg-sheet px-1.5"
          value={String(held)}
          onChange={(event) => attempt(send(key, event.target.value))}
        >
          {options.map(({ value, text }) => (
            <option key={value} value={value}>
              {text}
            </option>
          ))}
        </select>
      );
    }
    return (
      <Choice label={label} value={String(held)} onChange={(value) => attempt(send(key, value))} options={options} />
    );
  }
  const list = held as number[];
  const value = at === undefined ? (held as number) : list[at]!;
  const read = { mm: readMm, "°": readDegrees, share: readUnit, whole: async (text: string) => Number(text) }[as];
  return (
    <NumberField
      hideLabel
      label={label}
      value={as === "mm" ? mm(value) : plain(value, 3)}
      unit={as === "mm" || as === "°" ? as : undefined}
      className="w-28"
      onCommit={async (text) => {
        const typed = await read(text);
        return send(key, at === undefined ? typed : list.map((v, k) => (k === at ? typed : v)));
      }}
    />
  );
}

function PlaceField({
  label,
  place,
  send,
}: {
  label: string;
  place: Triple;
  send: (place: Triple) => Promise<unknown>;
}) {
  return (
    <>
      {AXES.map((axis, k) => (
        <NumberField
          key={axis}
          hideLabel
          label={`${label}, ${axis}`}
          value={mm(place[k]!)}
          className="min-w-0 flex-1"
          onCommit={async (text) => {
            const typed = await readMm(text);
            return send(place.map((v, at) => (at === k ? typed : v)) as Triple);
          }}
        />
      ))}
    </>
  );
}

function DirectionField({ label, way, onChange }: { label: string; way: Triple; onChange: (way: Triple) => void }) {
  const known = WAYS.find(([, of]) => of.join() === way.join());
  return (
    <select
      aria-label={label}
      className="h-7 w-28 border border-rule bg-sheet px-1.5"
      value={known?.[0] ?? "as stated"}
      onChange={(event) => onChange(WAYS.find(([name]) => name === event.target.value)![1])}
    >
      {!known && <option value="as stated">{way.map((v) => plain(v, 2)).join(", ")}</option>}
      {WAYS.map(([name]) => (
        <option key={name} value={name}>
          {name}
        </option>
      ))}
    </select>
  );
}
