import { useQuery, useQueryClient } from "@tanstack/react-query";
import { FolderOpen, Trash2 } from "lucide-react";
import { useRef, useState, type DragEvent } from "react";
import { Link } from "react-router";

import { getJson, sendJson } from "../../api/client";
import type { OpenedFormat, ProjectCard } from "../../api/wire.gen";
import { Wordmark } from "../shell/Wordmark";
import { Button } from "../../ui/Button";
import { FileInput } from "../../ui/FileInput";
import { Confirm } from "../../ui/Confirm";
import { counted } from "../../ui/numbers";
import { OpenDialog } from "./OpenDialog";
import { attempt } from "../../ui/attempt";

/** Start from the demo, open a file, or go on with a project. */
export function ProjectsScreen() {
  const { data: projects } = useQuery({
    queryKey: ["projects"],
    queryFn: () => getJson<ProjectCard[]>("/projects"),
    refetchOnMount: "always",
  });
  const [files, setFiles] = useState<File[]>([]);
  const [over, setOver] = useState(false);
  const chooser = useRef<HTMLInputElement>(null);

  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    setFiles([...event.dataTransfer.files]);
  };

  return (
    <main
      className="mx-auto flex min-h-full max-w-6xl flex-col px-8 py-8"
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
    >
      <div className="mb-7 flex items-end justify-between border-b border-ink/70 pb-5">
        <div>
          <h1>
            <Wordmark size={40} />
          </h1>
          <p className="mt-2 max-w-xl text-[15px] text-faint">
            Lays tiling materials on models in millimetres: brick by its true size, boards by their grain, courses that
            run on.
          </p>
        </div>
        <div className={`border border-dashed p-4 text-right ${over ? "border-hand bg-hand-wash" : "border-rule"}`}>
          <Button look="main" className="h-9 px-4 text-[15px]" onClick={() => chooser.current?.click()}>
            <FolderOpen size={17} aria-hidden /> Open a model
          </Button>
          <Formats />
          <FileInput ref={chooser} data-testid="model-files" onFiles={setFiles} />
        </div>
      </div>
      <ul className="grid grid-cols-3 gap-6">
        {projects?.map((project) => (
          <Card key={project.id} project={project} />
        ))}
      </ul>
      {projects?.length === 0 && (
        <p className="text-faint">There is no project yet. Open a model, or run “pivrel demo” for five made-up ones.</p>
      )}
      {files.length > 0 && <OpenDialog files={files} onClose={() => setFiles([])} />}
    </main>
  );
}

/** What can be opened, and what has to be installed first. */
function Formats() {
  const { data: formats = [] } = useQuery({
    queryKey: ["formats"],
    queryFn: () => getJson<OpenedFormat[]>("/formats"),
  });
  const opened = formats.filter(({ missing }) => !missing).map(({ name }) => name);
  return (
    <>
      <p className="label mt-1.5">
        or drop it here, with the files that it names: {[...opened, "a .pivrel project"].join(", ")}
      </p>
      {formats.map(
        ({ name, missing }) =>
          missing && (
            <p key={name} className="label" data-testid="missing">
              {missing}
            </p>
          ),
      )}
    </>
  );
}

function Card({ project }: { project: ProjectCard }) {
  const queries = useQueryClient();
  const remove = () => {
    attempt(async () => {
      await sendJson("DELETE", `/projects/${project.id}`);
      await queries.invalidateQueries({ queryKey: ["projects"] });
    });
  };
  const worked = new Date(project.used_at).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" });
  const model = `${counted(project.parts, "part")} · ${counted(project.triangles, "triangle")}`;
  const finishes = counted(project.finishes, "finish", "finishes");
  return (
    <li className="group relative border border-rule bg-sheet hover:border-ink">
      <Link to={`/projects/${project.id}`} className="block">
        <img
          src={`/api/projects/${project.id}/picture.jpg?revision=${project.revision}`}
          alt=""
          className="aspect-[3/2] w-full border-b border-rule bg-shade object-cover"
        />
        <div className="px-3 py-2.5">
          <h2 className="heading">{project.name}</h2>
          <p className="figure text-faint">
            {model} · {finishes}
          </p>
          <p className="label">
            {project.demo ? "made-up demo" : project.file} · last worked on {worked}
          </p>
        </div>
      </Link>
      <Confirm
        title={`Delete “${project.name}”?`}
        text={`${project.file}, ${finishes}, last worked on ${worked}. The project goes with its model, its schedule and its undo history. Files that you handed over stay.`}
        action="Delete the project"
        onConfirm={remove}
      >
        <button
          type="button"
          aria-label={`Delete ${project.name}`}
          className="absolute right-2 bottom-2 p-1 text-faint opacity-0 group-hover:opacity-100 hover:text-wrong focus:opacity-100"
        >
          <Trash2 size={16} />
        </button>
      </Confirm>
    </li>
  );
}
