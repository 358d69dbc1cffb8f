import { lazy, Suspense, useState } from "react";

import { useEdits, useLibrary } from "../../api/project";
import type { Channel, LibraryMaterial, Marks, Material, Project } from "../../api/wire.gen";
import { Choice } from "../../ui/Choice";
import { useLibraryEdits } from "./api";
import { MaterialFacts } from "./MaterialFacts";
import { MaterialList } from "./MaterialList";
import { OneRepeat } from "./OneRepeat";
import { useDesk } from "../../state/desk";
import { put } from "../../state";

// Brings the 3D library along, which the rest of this screen does without.
const Preview = lazy(() => import("./Preview").then((module) => ({ default: module.Preview })));

type Show = "one" | "four" | "shapes";

const SHOWS: { value: Show; text: string; hint: string }[] = [
  { value: "one", text: "One repeat", hint: "The image with its real size" },
  { value: "four", text: "Two by two", hint: "How it repeats, to be judged by eye" },
  { value: "shapes", text: "Ball, slab, corner", hint: "Lit as on the model, at a stated size" },
];

/** The library and what this project uses of it: channels, real size, grain, joints. */
export default function MaterialsScreen({ project }: { project: Project }) {
  const { data: library = [] } = useLibrary();
  const used = Object.values(project.materials);
  const rest = library.filter((m) => !(m.key in project.materials));
  const key = useDesk((s) => s.material);
  const setKey = (material: string) => put({ material });
  const shown = [...used, ...rest].find((m) => m.key === key) ?? used[0] ?? rest[0];
  return (
    <main className="grid min-h-0 flex-1 grid-cols-[19rem_1fr]">
      <MaterialList project={project} used={used} rest={rest} shown={shown?.key} onShow={setKey} />
      {shown && <Sheet key={shown.key} project={project} material={shown} library={library} onShow={setKey} />}
    </main>
  );
}

interface SheetProps {
  project: Project;
  material: Material;
  library: LibraryMaterial[];
  onShow: (key: string) => void;
}

function Sheet({ project, material, library, onShow }: SheetProps) {
  const { edit } = useEdits(project.id);
  const { calibrate } = useLibraryEdits();
  const [channel, setChannel] = useState<Channel>("base_color");
  const [show, setShow] = useState<Show>("one");
  const [calibrating, setCalibrating] = useState(false);
  const own = library.find((m) => m.key === material.key);
  const onCalibrate = (marks: Marks) =>
    material.key in project.materials
      ? edit({ kind: "change_material", material: material.key, marks })
      : calibrate(material.key, marks);
  return (
    <section className="grid min-h-0 grid-cols-[1fr_19rem] gap-7 px-7 pt-4" aria-label={material.name}>
      <div className="min-w-0">
        <div className="mb-3">
          <Choice
            label="Shown as"
            value={show}
            onChange={(value) => {
              setShow(value);
              setCalibrating(false);
            }}
            options={SHOWS}
          />
        </div>
        {show === "shapes" ? (
          <Suspense fallback={null}>
            <Preview material={material} />
          </Suspense>
        ) : (
          <OneRepeat
            material={material}
            channel={channel}
            times={show === "one" ? 1 : 2}
            onCalibrate={onCalibrate}
            calibrating={calibrating}
            onDone={() => setCalibrating(false)}
          />
        )}
      </div>
      <MaterialFacts
        project={project}
        material={material}
        own={own}
        library={library}
        channel={channel}
        onChannel={(to) => {
          setChannel(to);
          if (show === "shapes") setShow("one");
        }}
        onCalibrate={() => {
          setShow("one");
          setCalibrating(true);
        }}
        onShow={onShow}
      />
    </section>
  );
}
