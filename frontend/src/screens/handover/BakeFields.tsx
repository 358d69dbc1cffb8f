import type { Bakeable, BakeAsked } from "../../api/wire.gen";
import { Choice } from "../../ui/Choice";
import { Check, Line } from "../../ui/lines";
import { NumberField } from "../../ui/NumberField";
import { area, plain } from "../../ui/numbers";

export type Asked = Required<BakeAsked> & { finishes: string[] };

interface Props {
  finishes: Bakeable[];
  asked: Asked;
  onChange: (asked: Asked) => void;
}

const SIZES = ["1024", "2048", "4096", "8192"];

/** What is asked of a bake. */
export function BakeFields({ finishes, asked, onChange }: Props) {
  const set = (part: Partial<Asked>) => onChange({ ...asked, ...part });
  const toggle = (key: string, on: boolean) =>
    set({ finishes: finishes.map((f) => f.key).filter((k) => (k === key ? on : asked.finishes.includes(k))) });
  return (
    <div>
      <p className="label mb-1">Finishes</p>
      <ul className="mb-3 max-h-44 overflow-y-auto border border-rule bg-sheet px-2 py-1" aria-label="Finishes to bake">
        {[...finishes]
          .sort((a, b) => Number(b.needs) - Number(a.needs))
          .map((finish) => (
            <li key={finish.key} className="flex items-center justify-between gap-3 py-0.5">
              <Check
                label={finish.name}
                checked={asked.finishes.includes(finish.key)}
                onChange={(on) => toggle(finish.key, on)}
              />
              <span className="label whitespace-nowrap">
                {finish.needs ? "needs it · " : ""}
                {area(finish.area_m2)}
              </span>
            </li>
          ))}
      </ul>
      <Line label="Density">
        <NumberField
          hideLabel
          label="Pixels per metre"
          value={plain(asked.px_per_m, 3)}
          unit="px/m"
          className="w-32"
          onCommit={async (text) => set({ px_per_m: number(text, "pixels per metre") })}
        />
        <span className="text-faint">one pixel is {plain(1000 / asked.px_per_m)} mm</span>
      </Line>
      <Line label="Images">
        <Choice
          label="Longest side of an image"
          value={String(asked.size)}
          onChange={(size) => set({ size: Number(size) })}
          options={SIZES.map((size) => ({ value: size, text: size }))}
        />
        <span className="text-faint">px at most</span>
      </Line>
      <Line label="Padding">
        <NumberField
          hideLabel
          label="Padding"
          value={String(asked.padding_px)}
          unit="px"
          className="w-20"
          onCommit={async (text) => set({ padding_px: Math.round(number(text, "padding", 0)) })}
        />
        <span className="text-faint">filled about each piece</span>
      </Line>
      <Line label="Pieces">
        <Choice
          label="Pieces"
          value={asked.unfold}
          onChange={(unfold) => set({ unfold })}
          options={[
            {
              value: "own",
              text: "As laid",
              hint: "Where a finish lies true to size, its own pieces; the rest is unfolded",
            },
            { value: "anew", text: "Unfolded anew", hint: "Nothing of how the finishes lie is kept" },
          ]}
        />
      </Line>
      <Line label="Heights">
        <Choice
          label="Heights"
          value={String(asked.height_bits) as "8" | "16"}
          onChange={(bits) => set({ height_bits: bits === "8" ? 8 : 16 })}
          options={[
            { value: "16", text: "16 bit" },
            { value: "8", text: "8 bit" },
          ]}
        />
      </Line>
      <Line label="File">
        <Choice
          label="File"
          value={asked.kind}
          onChange={(kind) => set({ kind })}
          options={[
            { value: "glb", text: "GLB" },
            { value: "gltf", text: "glTF" },
            { value: "obj", text: "OBJ" },
          ]}
        />
      </Line>
    </div>
  );
}

function number(text: string, what: string, least = 0.001): number {
  const value = Number(text.replace(",", "."));
  if (!(value >= least)) throw new Error(`${what}: a number of ${least} or more is needed`);
  return value;
}
