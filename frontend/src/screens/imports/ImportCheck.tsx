import { useState } from "react";

import { quantity } from "../../api/quantity";
import type { CheckedModel, Finding, ModelReading } from "../../api/wire.gen";
import { UNITS, UPWARD_AXES } from "../../ui/readings";
import { Choice } from "../../ui/Choice";
import { NumberField } from "../../ui/NumberField";
import { count, counted, plain } from "../../ui/numbers";

interface Props {
  picture: string;
  model: CheckedModel;
  reading: ModelReading;
  onReading: (reading: ModelReading) => void;
  mend: string[];
  onMend: (keys: string[]) => void;
  onTolerance: (mm: string) => void;
}

/** The model beside a familiar scale, its size and unit, and what is wrong with it, be it still looked for. */
export function ImportCheck({ picture, model, reading, onReading, mend, onMend, onTolerance }: Props) {
  const [marked, setMarked] = useState<string | null>(null);
  const [x, y, z] = model.size_mm.map((side) => count(Math.round(side * 10) / 10));
  const toggle = (key: string) => onMend(mend.includes(key) ? mend.filter((k) => k !== key) : [...mend, key]);
  return (
    <div className="grid min-h-[24rem] grid-cols-[28rem_1fr] gap-5">
      <figure>
        <img
          src={marked ? `${picture}&fault=${marked}` : picture}
          alt={model.beside ? `The model beside ${model.beside}` : "The model"}
          className="aspect-[14/9] w-full border border-rule bg-shade"
        />
        <figcaption className="label mt-1.5">
          {model.beside ? `Beside ${model.beside}.` : "Nothing familiar is of its size."} If that looks wrong, so is the
          unit or the axis; both can be changed later too.
        </figcaption>
      </figure>
      <div className="min-w-0">
        <dl className="mb-3 grid grid-cols-[4.5rem_1fr] items-baseline gap-y-1">
          <dt className="label">Size</dt>
          <dd className="figure text-[19px] font-medium" data-testid="import-size">
            {x} × {y} × {z} mm
          </dd>
          <dt className="label">Holds</dt>
          <dd className="figure">
            {counted(model.parts, "part")} · {counted(model.faces, "face")} · {counted(model.triangles, "triangle")}
            {model.storeys.length > 0 && ` · ${counted(model.storeys.length, "storey")}`}
          </dd>
          <dt className="label">Brings</dt>
          <dd className="figure" data-testid="import-brings">
            {model.materials + model.uv_sets > 0
              ? `${counted(model.materials, "material")} · ${counted(model.images, "image")} · ${counted(model.uv_sets, "UV set")}`
              : "no materials"}
          </dd>
          {Object.keys(model.exact).length > 0 && (
            <>
              <dt className="label">Surfaces</dt>
              <dd className="figure">
                {Object.entries(model.exact)
                  .map(([kind, many]) => counted(many, kind))
                  .join(" · ")}
              </dd>
            </>
          )}
        </dl>
        {model.asks_unit ? (
          <div className="mb-3 border-y border-rule py-3">
            <p className="mb-2">
              Such files state neither unit nor upward axis.
              {model.guessed && model.why && (
                <span className="block text-faint first-letter:uppercase">{model.why}.</span>
              )}
            </p>
            <div className="flex gap-4">
              <Choice
                label="Unit"
                value={model.unit}
                onChange={(unit) => onReading({ ...reading, unit })}
                options={UNITS.map((u) => ({ ...u, hint: model.readings[u.value] }))}
              />
              <Choice
                label="Upward axis"
                value={model.up}
                onChange={(up) => onReading({ ...reading, up })}
                options={UPWARD_AXES}
              />
            </div>
          </div>
        ) : (
          <p className="mb-3 border-y border-rule py-2">
            The file states its unit ({model.unit}) and that {model.up.toUpperCase()} is up.
          </p>
        )}
        {model.tolerance_mm !== null && (
          <div className="mb-3 flex items-end gap-2">
            <NumberField
              label="Facets stay within"
              value={plain(model.tolerance_mm)}
              unit="mm"
              className="w-32"
              onCommit={async (text) => {
                const value = await quantity(text, "length");
                if (!(value > 0)) throw new Error("a tolerance is above zero");
                onTolerance(String(value));
              }}
            />
            <span className="label pb-1.5">of the true surfaces</span>
          </div>
        )}
        <h3 className="heading mb-1">The check</h3>
        {model.state === "working" ? (
          <p role="status" className="text-faint">
            Looking for what is wrong with it…
          </p>
        ) : (
          model.found.length + model.findings.length === 0 && <p>Nothing is wrong with it.</p>
        )}
        <ul className="divide-y divide-rule border-rule not-empty:border-y">
          {model.found.map((line) => (
            <li key={line} className="py-1.5 first-letter:uppercase">
              {line}
            </li>
          ))}
          {model.findings.map((finding) => (
            <Line
              key={finding.key}
              finding={finding}
              mending={mend.includes(finding.key)}
              onMend={() => toggle(finding.key)}
              marked={marked === finding.key}
              onMark={() => setMarked(marked === finding.key ? null : finding.key)}
            />
          ))}
        </ul>
      </div>
    </div>
  );
}

interface LineProps {
  finding: Finding;
  mending: boolean;
  onMend: () => void;
  marked: boolean;
  onMark: () => void;
}

function Line({ finding, mending, onMend, marked, onMark }: LineProps) {
  return (
    <li className="flex items-start gap-3 py-1.5">
      <div className="min-w-0 flex-1">
        <strong className={`font-medium ${finding.mend ? "text-wrong" : ""}`}>{finding.words}</strong>
        <span className="text-faint">: {finding.then}.</span>
        {finding.mend && (
          <label className="mt-0.5 flex items-center gap-2">
            <input type="checkbox" checked={mending} onChange={onMend} className="accent-hand" />
            {finding.mend}
          </label>
        )}
      </div>
      {finding.shown && (
        <button
          type="button"
          aria-pressed={marked}
          onClick={onMark}
          className={`shrink-0 border px-2 ${marked ? "border-hand bg-hand text-white" : "border-rule bg-sheet hover:border-ink"}`}
        >
          Show
        </button>
      )}
    </li>
  );
}
