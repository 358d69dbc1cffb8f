import { useState } from "react";

import { imageUrl } from "../api/client";
import { useEdits, useLibrary } from "../api/project";
import type { Channel, LibraryMaterial, Material, Project } from "../api/types";
import { NumberField } from "../ui/NumberField";
import { Swatch } from "../ui/Swatch";
import { mm, plain } from "../ui/numbers";

const CHANNELS: { channel: Channel; text: string }[] = [
  { channel: "base_color", text: "Base color" },
  { channel: "normal", text: "Normal" },
  { channel: "roughness", text: "Roughness" },
];

/** The library and what this project uses of it: channels, real size, grain. */
export default function MaterialsScreen({ project }: { project: Project }) {
  const { data: library = [] } = useLibrary();
  const used = Object.values(project.materials);
  const rest = library.filter((m) => !(m.key in project.materials));
  const [key, setKey] = useState<string | null>(null);
  const shown = [...used, ...rest].find((m) => m.key === key) ?? used[0] ?? rest[0];

  return (
    <main className="grid min-h-0 flex-1 grid-cols-[19rem_1fr]">
      <nav aria-label="Materials" className="overflow-y-auto border-r border-ink/70 py-2">
        <List title={`In ${project.name}`} materials={used} shown={shown?.key} onShow={setKey} empty="Nothing is laid yet." />
        <List title="Library" materials={rest} shown={shown?.key} onShow={setKey} empty="All of it is in use." />
      </nav>
      {shown && <Sheet key={shown.key} project={project} material={shown} library={library} />}
    </main>
  );
}

interface ListProps {
  title: string;
  materials: Material[];
  shown?: string;
  onShow: (key: string) => void;
  empty: string;
}

function List({ title, materials, shown, onShow, empty }: ListProps) {
  return (
    <>
      <h2 className="heading px-4 pt-2 pb-1">{title}</h2>
      {materials.length === 0 && <p className="px-4 pb-2 text-faint">{empty}</p>}
      <ul>
        {materials.map((m) => (
          <li key={m.key}>
            <button
              type="button"
              aria-current={m.key === shown}
              onClick={() => onShow(m.key)}
              className={`flex w-full items-center gap-3 px-4 py-1.5 text-left ${m.key === shown ? "bg-hand-wash" : "hover:bg-sheet"}`}
            >
              <Swatch material={m} size={44} />
              <span className="min-w-0">
                <span className="block truncate font-medium">{m.name}</span>
                <span className="figure text-faint">
                  {mm(m.repeat_mm[0])} × {mm(m.repeat_mm[1])} mm
                </span>
              </span>
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}

function Sheet({ project, material, library }: { project: Project; material: Material; library: LibraryMaterial[] }) {
  const { edit } = useEdits(project.id);
  const [channel, setChannel] = useState<Channel>("base_color");
  const inUse = material.key in project.materials;
  const finishes = project.finishes.filter((f) => f.material === material.key);
  const own = library.find((m) => m.key === material.key);
  const [width, height] = material.repeat_mm;
  const there = CHANNELS.filter((c) => material.images[c.channel]);
  const image = material.images[channel] ?? material.images.base_color;
  const change = (what: { repeat_mm?: [string | null, string | null]; grain_deg?: string }) =>
    edit({ kind: "material", material: material.key, ...what });
  const changed = own && (own.repeat_mm[0] !== width || own.repeat_mm[1] !== height);

  return (
    <section className="grid min-h-0 grid-cols-[1fr_19rem] gap-8 overflow-y-auto p-8" aria-label={material.name}>
      <figure className="min-w-0">
        <div className="ml-10">
          <Dimension text={`${mm(width)} mm`} />
        </div>
        <div className="flex max-h-[calc(100vh-13rem)]">
          <div className="flex w-10 shrink-0 items-center justify-center border-y border-ink/60">
            <span className="figure -rotate-90 whitespace-nowrap">{mm(height)} mm</span>
          </div>
          <div className="relative min-w-0 border border-ink" style={{ aspectRatio: width / height }}>
            {image && (
              <img src={imageUrl(image, 1024)} alt={`${material.name}, one repeat`} className="size-full" />
            )}
            {material.grain_deg != null && channel === "base_color" && <GrainMark degrees={material.grain_deg} />}
          </div>
        </div>
        <figcaption className="label mt-2 ml-10">One repeat, seen from outside; its lower left corner is the origin.</figcaption>
      </figure>
      <div>
        <h2 className="heading mb-1 text-[22px]">{material.name}</h2>
        <p className="mb-4 text-faint">
          {inUse
            ? finishes.length
              ? `Used by ${finishes.map((f) => `${f.key} ${f.name}`).join(", ")}.`
              : "In the project, but no finish uses it now."
            : "From the library. Lay it once to give it a size of its own in this project."}
        </p>
        <h3 className="mb-1.5 border-b border-rule font-figure font-semibold">Real size of one repeat</h3>
        {inUse ? (
          <div className="mb-1 flex items-end gap-2">
            <NumberField label="Width" value={mm(width)} unit="mm" className="flex-1" onCommit={(text) => change({ repeat_mm: [text, null] })} />
            <NumberField label="Height" value={mm(height)} unit="mm" className="flex-1" onCommit={(text) => change({ repeat_mm: [null, text] })} />
          </div>
        ) : (
          <p className="figure mb-1 text-[19px]">
            {mm(width)} × {mm(height)} mm
          </p>
        )}
        <p className="label mb-4">
          {changed && own
            ? `The library has it at ${mm(own.repeat_mm[0])} × ${mm(own.repeat_mm[1])} mm.`
            : "Width and height keep the image’s proportions."}
        </p>
        <h3 className="mb-1.5 border-b border-rule font-figure font-semibold">Grain</h3>
        <div className="mb-4 flex items-center gap-3">
          {material.grain_deg == null ? (
            <p>It has no direction.</p>
          ) : (
            <>
              {inUse ? (
                <NumberField hideLabel label="Grain" value={plain(material.grain_deg)} unit="°" className="w-20" onCommit={(text) => change({ grain_deg: text })} />
              ) : (
                <span className="figure text-[17px]">{plain(material.grain_deg)}°</span>
              )}
              <span className="label">counter-clockwise from level</span>
            </>
          )}
        </div>
        <h3 className="mb-1.5 border-b border-rule font-figure font-semibold">Channels</h3>
        <ul className="flex gap-2">
          {there.map(({ channel: name, text }) => (
            <li key={name}>
              <button
                type="button"
                aria-pressed={channel === name}
                onClick={() => setChannel(name)}
                className={`block border-2 p-0.5 ${channel === name ? "border-hand" : "border-transparent hover:border-rule"}`}
              >
                <img src={imageUrl(material.images[name]!, 160)} alt="" className="size-20 border border-ink/40 object-cover" />
                <span className="label block">{text}</span>
              </button>
            </li>
          ))}
        </ul>
        {material.metallic > 0 && <p className="label mt-2">Metallic: {plain(material.metallic)}</p>}
      </div>
    </section>
  );
}

/** A dimension line as a drawing has it: ticks at both ends, the size over it. */
function Dimension({ text }: { text: string }) {
  return (
    <div className="relative mb-1 h-6 border-x border-ink/60">
      <div className="absolute inset-x-0 bottom-1 border-t border-ink/60" />
      <span className="figure absolute inset-x-0 bottom-1.5 text-center">{text}</span>
    </div>
  );
}

function GrainMark({ degrees }: { degrees: number }) {
  return (
    <span className="absolute right-3 bottom-3 flex items-center gap-2 border border-ink/60 bg-paper/90 px-2 py-1">
      <svg width="34" height="34" viewBox="-17 -17 34 34" aria-hidden>
        <g transform={`rotate(${-degrees})`} stroke="var(--color-ink)" strokeWidth="1.5">
          <path d="M-15 0H15M-15 0l5 -3.5M-15 0l5 3.5M15 0l-5 -3.5M15 0l-5 3.5" fill="none" />
        </g>
      </svg>
      <span className="label text-ink">grain</span>
    </span>
  );
}
