import { X } from "lucide-react";

import type { Finish, Project, Spread, Toned } from "../../../../api/wire.gen";
import { NOTHING, usePick } from "../../../../state/pick";
import { put } from "../../../../state";
import { attempt } from "../../../../ui/attempt";
import { Button } from "../../../../ui/Button";
import { ColorField } from "../../../../ui/ColorField";
import { Line } from "../../../../ui/lines";
import { NumberField } from "../../../../ui/NumberField";
import { plain } from "../../../../ui/numbers";
import { sharedBy, type Changing } from "../changing";
import { readUnit } from "./typed";

interface Props extends Changing {
  project: Project;
  finishes: Finish[];
}

const FACTORS = [
  ["lightness", "Lightness"],
  ["roughness", "Rougher"],
  ["bump", "Bumps"],
] as const;

const percent = (factor: number) => `${plain(factor * 100, 1)} %`;

/** How the finishes look beside their images: tinted, lighter, rougher; some faces otherwise, and each piece a little. */
export function ToneLines({ finishes, change, now }: Props) {
  const only = finishes.length === 1 ? finishes[0]! : null;
  const tint = finishes.every((f) => f.tint === finishes[0]!.tint) ? finishes[0]!.tint : null;
  return (
    <>
      <Line label="Tint">
        <ColorField
          label="Tint of the finish"
          value={tint}
          none="none"
          onCommit={(color) => now({ kind: "set_tone", tint: color })}
        />
      </Line>
      <Line label="Tone">
        {FACTORS.map(([key, text]) => (
          <Factor
            key={key}
            label={text}
            value={sharedBy(finishes, (f) => percent(f[key]))}
            onTyped={(factor) => change({ kind: "set_tone", [key]: factor })}
          />
        ))}
      </Line>
      <SpreadLine spread={finishes[0]!.spread} set={(spread) => change({ kind: "set_spread", spread })} />
      {only && <TonedFaces finish={only} set={(toned) => change({ kind: "set_toned", toned })} />}
    </>
  );
}

function Factor({ label, value, onTyped }: { label: string; value: string; onTyped: (v: number) => Promise<unknown> }) {
  return (
    <NumberField
      label={label}
      value={value}
      className="min-w-0 flex-1"
      onCommit={async (text) => onTyped(await readUnit(text))}
    />
  );
}

const BY: [Spread["by"], string][] = [
  ["part", "each part"],
  ["board", "each board"],
  ["unit", "each brick, tile or board of the image"],
  ["cell", "each random cell"],
];

/** How much the pieces of a finish differ in lightness. */
function SpreadLine({ spread, set }: { spread: Spread | null; set: (spread: Spread | null) => Promise<unknown> }) {
  const by = (next: string) =>
    attempt(set(next ? { lightness: 0.06, seed: 1, ...spread, by: next as Spread["by"] } : null));
  return (
    <Line label="Differ">
      <select
        aria-label="What differs in lightness"
        className="h-7 min-w-0 flex-1 border border-rule bg-sheet px-1.5"
        value={spread?.by ?? ""}
        onChange={(event) => by(event.target.value)}
      >
        <option value="">all alike</option>
        {BY.map(([value, text]) => (
          <option key={value} value={value}>
            {text}
          </option>
        ))}
      </select>
      {spread && (
        <>
          <span className="label">±</span>
          <NumberField
            hideLabel
            label="How much they differ"
            value={percent(spread.lightness)}
            className="w-16"
            onCommit={async (text) => set({ ...spread, lightness: await readUnit(text) })}
          />
        </>
      )}
    </Line>
  );
}

/** Faces that look otherwise than the rest; the pick can be made such. */
function TonedFaces({ finish, set }: { finish: Finish; set: (toned: Toned[]) => Promise<unknown> }) {
  const pick = usePick((s) => s.pick);
  const kept: Toned[] = finish.toned.map((faces) => {
    const { pick: own, tint, lightness, roughness, bump } = faces;
    return { pick: own, tint, lightness, roughness, bump };
  });
  const add = () => {
    const toned = { pick: pick.rule, tint: null, lightness: 0.85, roughness: 1, bump: 1 };
    attempt(set([...kept, toned]), () => put({ pick: NOTHING }));
  };
  const change = (row: number, of: Partial<Toned>) =>
    set(kept.map((toned, at) => (at === row ? { ...toned, ...of } : toned)));
  return (
    <>
      {finish.toned.map((toned, row) => (
        <div key={row} className="mb-1.5 border-l-2 border-rule pl-2" data-testid="toned">
          <div className="mb-1 flex items-center gap-2">
            <span className="min-w-0 flex-1 truncate first-letter:uppercase">{toned.words}</span>
            <Button
              tight
              look="quiet"
              aria-label={`Tone ${toned.words} like the rest again`}
              onClick={() => attempt(set(kept.filter((_, at) => at !== row)))}
            >
              <X size={14} aria-hidden />
            </Button>
          </div>
          <Line label="Tint">
            <ColorField
              label={`Tint of ${toned.words}`}
              value={toned.tint}
              none="none"
              onCommit={(tint) => attempt(change(row, { tint }))}
            />
          </Line>
          <Line label="Tone">
            {FACTORS.map(([key, text]) => (
              <Factor
                key={key}
                label={text}
                value={percent(toned[key])}
                onTyped={(factor) => change(row, { [key]: factor })}
              />
            ))}
          </Line>
        </div>
      ))}
      {pick.faces > 0 && (
        <Line label="">
          <Button
            title="The picked faces become darker, lighter or of another color than the rest of the finish"
            onClick={add}
          >
            Tone the pick otherwise
          </Button>
        </Line>
      )}
    </>
  );
}
