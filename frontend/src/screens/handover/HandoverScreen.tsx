import { useQuery } from "@tanstack/react-query";
import { AlertTriangle, Download, Info, Layers } from "lucide-react";
import { useState } from "react";
import { useNavigate } from "react-router";

import { getJson, sendJson } from "../../api/client";
import type { Overview, Picked, PickRequest, Problem, Project } from "../../api/wire.gen";
import { Swatch } from "../../ui/Swatch";
import { area, count, counted, mm, percent, plain } from "../../ui/numbers";
import { put } from "../../state";
import { goTo } from "../../state/look";
import { takePick } from "../../state/pick";
import { BakeDialog } from "./BakeDialog";

const FILES = [
  { kind: "glb", name: "GLB", text: "One file with everything in it: geometry in metres, Y up, images within." },
  { kind: "gltf", name: "glTF, zipped", text: "The same as separate files: JSON, buffer and images." },
  {
    kind: "obj",
    name: "OBJ, zipped",
    text: "Polygons as they came, with MTL and images, in the unit and axes of the file you opened.",
  },
  {
    kind: "recipe",
    name: "Recipe, zipped",
    text: "Materials and schedule as JSON, to lay the same again with “pivrel apply”.",
  },
  {
    kind: "project",
    name: "Project, one file",
    text: "Model, materials, schedule and undo history, to open in Pivrel on another machine.",
  },
];

/** What will be written, what is still wrong with it, and the files. */
export default function HandoverScreen({ project }: { project: Project }) {
  const { data, isFetching } = useQuery({
    queryKey: ["handover", project.id, project.revision],
    queryFn: () => getJson<Overview>(`/projects/${project.id}/handover`),
  });
  const [baking, setBaking] = useState(false);
  return (
    <main className="overflow-y-auto">
      <div className="mx-auto grid w-full max-w-6xl grid-cols-[1fr_24rem] gap-10 px-8 py-7">
        <div>
          <h2 className="heading mb-2 text-[20px]">What to look at first</h2>
          {!data && isFetching && <p className="text-faint">Measuring…</p>}
          {data?.problems.length === 0 && <p>Nothing: every face has a finish, true and unbroken.</p>}
          <ul className="mb-8 border-t border-rule">
            {data?.problems.map((problem) => (
              <ProblemLine key={`${problem.what}${problem.finish}`} project={project} problem={problem} />
            ))}
          </ul>
          {data && data.notes.length > 0 && (
            <>
              <h2 className="heading mb-2 text-[20px]">What the files hold otherwise</h2>
              <ul className="mb-8 border-t border-rule" data-testid="notes">
                {data.notes.map((note) => (
                  <li key={note} className="flex items-start gap-3 border-b border-rule py-2">
                    <Info size={17} className="mt-0.5 shrink-0 text-faint" aria-hidden />
                    <span>{note}.</span>
                  </li>
                ))}
                <li className="py-2">
                  <button type="button" className="text-hand underline" onClick={() => setBaking(true)}>
                    Bake them to images
                  </button>{" "}
                  <span className="text-faint">to hand all of it over.</span>
                </li>
              </ul>
            </>
          )}
          <h2 className="heading mb-2 text-[20px]">What will be written</h2>
          <table className="w-full border-collapse">
            <thead>
              <tr className="label border-b border-ink/70 text-left [&>th]:py-1 [&>th]:pr-3 [&>th]:font-medium">
                <th>Material in the file</th>
                <th>Repeat</th>
                <th>Turn</th>
                <th className="text-right">Faces</th>
                <th className="text-right">Area</th>
              </tr>
            </thead>
            <tbody>
              {project.finishes
                .filter(({ faces }) => faces > 0)
                .map((finish) => (
                  <tr key={finish.key} className="border-b border-rule/80 [&>td]:py-1.5 [&>td]:pr-3">
                    <td>
                      <span className="flex items-center gap-2">
                        <Swatch material={project.materials[finish.material]} /> {finish.name}
                      </span>
                    </td>
                    <td className="figure">
                      {mm(finish.repeat_mm[0])} × {mm(finish.repeat_mm[1])} mm
                    </td>
                    <td className="figure">{plain(finish.turn_deg)}°</td>
                    <td className="figure text-right">{count(finish.faces)}</td>
                    <td className="figure text-right">{area(finish.area_m2)}</td>
                  </tr>
                ))}
              {project.bare.faces > 0 && (
                <tr className="text-faint [&>td]:py-1.5 [&>td]:pr-3">
                  <td colSpan={3}>Bare faces, with the materials that they came with</td>
                  <td className="figure text-right">{count(project.bare.faces)}</td>
                  <td className="figure text-right">{area(project.bare.area_m2)}</td>
                </tr>
              )}
            </tbody>
          </table>
        </div>
        <div>
          <h2 className="heading mb-2 text-[20px]">Files</h2>
          <ul className="space-y-3">
            {FILES.map((file) => (
              <li key={file.kind}>
                <a
                  href={`/api/projects/${project.id}/handover/${file.kind}`}
                  download
                  data-testid={`download-${file.kind}`}
                  className="flex items-start gap-3 border border-rule bg-sheet p-3 hover:border-hand"
                >
                  <Download size={18} className="mt-0.5 shrink-0 text-hand" aria-hidden />
                  <span>
                    <span className="heading block">{file.name}</span>
                    <span className="text-faint">{file.text}</span>
                  </span>
                </a>
              </li>
            ))}
          </ul>
          <button
            type="button"
            onClick={() => setBaking(true)}
            className="mt-3 flex w-full items-start gap-3 border border-rule bg-sheet p-3 text-left hover:border-hand"
          >
            <Layers size={18} className="mt-0.5 shrink-0 text-hand" aria-hidden />
            <span>
              <span className="heading block">Bake to images…</span>
              <span className="text-faint">
                Coats, blends, cells and tones as images of their own, which any program shows.
              </span>
            </span>
          </button>
          <BakeDialog project={project} open={baking} onClose={() => setBaking(false)} />
          {data && (
            <p className="label mt-4">
              {counted(project.model.parts, "part")}, {counted(data.triangles, "triangle")}. Every finish is a material
              of its own in the file, named as in the schedule; texture coordinates are true to the millimetre.
            </p>
          )}
        </div>
      </div>
    </main>
  );
}

function ProblemLine({ project, problem }: { project: Project; problem: Problem }) {
  const go = useNavigate();
  const finish = project.finishes.find((f) => f.key === problem.finish);
  // Joints at corners are often meant; what is bare or distorted hardly ever is.
  const mild = ["seams", "covered", "off"].includes(problem.what);
  const Icon = mild ? Info : AlertTriangle;
  const amount =
    problem.unit === "m²"
      ? area(problem.amount)
      : problem.unit === "m"
        ? `${problem.amount.toFixed(2)} m`
        : problem.unit === "%"
          ? percent(problem.amount / 100)
          : "";
  const show = async () => {
    // Of a row that is off, what it would cover.
    const name = problem.what === "off" || problem.what === "unsolved" ? "covered" : problem.what;
    const figure = { figure: name, finish: problem.finish ?? undefined };
    const picked = await sendJson<Picked>("POST", `/projects/${project.id}/pick`, {
      how: "replace",
      figure,
    } satisfies PickRequest);
    takePick(picked);
    put({
      look: problem.what === "bare" ? "bare" : problem.what === "untrue" ? "stretch" : "finish",
      rows: finish ? [finish.key] : [],
    });
    if (picked.faces) goTo("around", true);
    void go(`/projects/${project.id}`);
  };
  return (
    <li className="flex items-start gap-3 border-b border-rule py-2">
      <Icon size={17} className={`mt-0.5 shrink-0 ${mild ? "text-faint" : "text-wrong"}`} aria-hidden />
      <span className="flex-1">
        {finish && <strong className="font-semibold">{finish.name}: </strong>}
        {amount && <span className="figure font-medium">{amount} </span>}
        {problem.text}.<span className="block text-faint">{problem.fix}</span>
      </span>
      <button type="button" className="shrink-0 text-hand underline" onClick={() => void show()}>
        Show on the model
      </button>
    </li>
  );
}
