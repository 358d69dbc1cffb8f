import { Upload } from "lucide-react";
import { useRef, useState } from "react";

import type { LibraryMaterial, Material, Project } from "../../api/wire.gen";
import { Button } from "../../ui/Button";
import { FileInput } from "../../ui/FileInput";
import { Swatch } from "../../ui/Swatch";
import { mm } from "../../ui/numbers";
import { useLibraryEdits } from "./api";

interface Props {
  project: Project;
  used: Material[];
  rest: LibraryMaterial[];
  shown?: string;
  onShow: (key: string) => void;
}

/** Every material by name and tag, those of the project first, and a place to drop new ones. */
export function MaterialList({ project, used, rest, shown, onShow }: Props) {
  const [asked, setAsked] = useState("");
  const [over, setOver] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const { bring } = useLibraryEdits();
  const words = asked.toLowerCase().split(/\s+/).filter(Boolean);
  const found = (m: Material) => {
    const text = `${m.name} ${(m.tags ?? []).join(" ")}`.toLowerCase();
    return words.every((word) => text.includes(word));
  };
  const take = async (files: Iterable<File>) => {
    const added = await bring(files);
    if (added) onShow(added.key);
  };
  return (
    <nav
      aria-label="Materials"
      className={`flex min-h-0 flex-col border-r border-ink/70 ${over ? "bg-hand-wash" : ""}`}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        void take(event.dataTransfer.files);
      }}
    >
      <div className="flex gap-2 border-b border-rule px-4 py-2.5">
        <input
          aria-label="Search materials"
          placeholder="Search by name or tag"
          value={asked}
          onChange={(event) => setAsked(event.target.value)}
          className="h-7 min-w-0 flex-1 border border-rule bg-sheet px-2 outline-none focus:border-hand"
        />
        <Button
          title="Bring a material: its images, or a material file. You can also drop them here"
          onClick={() => input.current?.click()}
        >
          <Upload size={15} aria-hidden /> Bring…
        </Button>
        <FileInput
          ref={input}
          accept="image/*,.tif,.tiff,.tga,.zip"
          aria-label="Images of a material"
          onFiles={(files) => void take(files)}
        />
      </div>
      <div className="min-h-0 flex-1 overflow-y-auto py-1">
        <Part
          title={`In ${project.name}`}
          materials={used.filter(found)}
          shown={shown}
          onShow={onShow}
          empty={asked ? "None of that name." : "Nothing is laid yet."}
        />
        <Part
          title="Library"
          materials={rest.filter(found)}
          shown={shown}
          onShow={onShow}
          empty={asked ? "None of that name." : "All of it is in use."}
        />
      </div>
    </nav>
  );
}

interface PartProps {
  title: string;
  materials: (Material | LibraryMaterial)[];
  shown?: string;
  onShow: (key: string) => void;
  empty: string;
}

function Part({ title, materials, shown, onShow, empty }: PartProps) {
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
                  {"own" in m && m.own && <span className="label"> · yours</span>}
                </span>
              </span>
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}
