import { Redo2, Undo2 } from "lucide-react";
import { useEffect, type ReactNode } from "react";
import { Link, useLocation } from "react-router";

import { useEdits, useFollow, useProject } from "../../api/project";
import type { Project } from "../../api/wire.gen";
import { ModelMenu } from "../workbench/revision/ModelMenu";
import { Wordmark } from "./Wordmark";
import { reset } from "../../state";
import { CommandButton } from "../../commands/CommandButton";
import { PROJECT, REDO, UNDO } from "../../commands/project";
import { useCommandKeys } from "../../commands/useCommandKeys";

interface Props {
  id: number;
  children: (project: Project) => ReactNode;
}

const SCREENS = [
  { path: "", text: "Workbench" },
  { path: "/materials", text: "Materials" },
  { path: "/hand-over", text: "Hand-over" },
];

/** The head that the screens of one project share: where one is, and what can be taken back. */
export function ProjectFrame({ id, children }: Props) {
  const { data: project, error } = useProject(id);
  const { pathname } = useLocation();
  const lost = useFollow(project);
  // What is in hand is carried from screen to screen, but never from one project to another.
  useEffect(() => reset, [id]);
  useEffect(() => {
    if (project) document.title = `${project.name} · Pivrel`;
  }, [project]);

  // What is shown stays when a later answer fails: the page says so at its top and goes on when it can.
  if (error && !project) {
    return (
      <main className="p-10">
        <p className="mb-3 first-letter:uppercase">{error.message}.</p>
        <Link to="/" className="text-hand underline">
          Back to the projects
        </Link>
      </main>
    );
  }
  if (!project) return <main className="p-10 text-faint">Opening…</main>;
  return (
    <div className="flex h-full flex-col">
      <header className="flex h-[38px] shrink-0 items-center gap-5 border-b border-ink/70 px-4">
        <Link to="/" aria-label="Pivrel: all projects" title="All projects">
          <Wordmark />
        </Link>
        <h1 className="heading min-w-0 truncate text-[18px]">
          {project.name}
          {project.demo && <span className="label ml-2 font-normal">made-up demo</span>}
        </h1>
        <nav className="flex self-stretch" aria-label="Screens">
          {SCREENS.map((screen) => {
            const path = `/projects/${id}${screen.path}`;
            const here = pathname === path;
            return (
              <Link
                key={path}
                to={path}
                aria-current={here ? "page" : undefined}
                className={`flex items-center border-b-[3px] px-3 pt-[3px] ${here ? "border-hand font-semibold" : "border-transparent text-faint hover:text-ink"}`}
              >
                {screen.text}
              </Link>
            );
          })}
        </nav>
        <div className="ml-auto flex gap-2">
          <ModelMenu project={project} />
          <UndoRedo project={project} />
        </div>
      </header>
      {lost === "project" && (
        <p role="alert" className="border-b border-wrong bg-wrong-wash px-4 py-1.5">
          <strong className="font-semibold">This project was deleted elsewhere.</strong> Nothing done here is kept any
          more.{" "}
          <Link to="/" className="text-hand underline">
            See the projects that there are
          </Link>
          .
        </p>
      )}
      {lost === "server" && (
        <p role="alert" data-testid="server-gone" className="border-b border-wrong bg-wrong-wash px-4 py-1.5">
          <strong className="font-semibold">The server does not answer.</strong> Your confirmed edits are safe there;
          this page goes on by itself as soon as it is back.
        </p>
      )}
      {children(project)}
    </div>
  );
}

function UndoRedo({ project }: { project: Project }) {
  const { run } = useEdits(project.id);
  const context = { project, step: run };
  useCommandKeys(PROJECT, context);
  return (
    <div className="flex gap-2">
      <CommandButton
        command={UNDO}
        context={context}
        keyShown={false}
        title={project.undo ? `Undo: ${project.undo} (${UNDO.key})` : "Nothing to undo"}
      >
        <Undo2 size={15} aria-hidden /> Undo
        {project.undo && <span className="label max-w-40 truncate">{project.undo}</span>}
      </CommandButton>
      <CommandButton
        command={REDO}
        context={context}
        keyShown={false}
        title={project.redo ? `Redo: ${project.redo} (${REDO.key})` : "Nothing to redo"}
      >
        <Redo2 size={15} aria-hidden /> Redo
      </CommandButton>
    </div>
  );
}
