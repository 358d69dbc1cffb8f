import { useRef, useState } from "react";

import { sendJson } from "../api/client";
import { useTakeProject } from "../api/project";
import type { Project } from "../api/types";
import { ImportDialog } from "../imports/ImportDialog";
import { Menu } from "../ui/Menu";
import { useWorkbench } from "../workbench/store";

/** What is done with the model as a whole: a newer one in its place, and the files as they came. */
export function ModelMenu({ project }: { project: Project }) {
  const [files, setFiles] = useState<File[]>([]);
  const chooser = useRef<HTMLInputElement>(null);
  const take = useTakeProject(project.id);
  const set = useWorkbench((s) => s.set);
  const originals = (project.model.files ?? []).map((file, number) => ({
    text: `Download ${file.name}`,
    hint: "The file as it came in",
    onSelect: () => window.location.assign(`/api/projects/${project.id}/original/${number}`),
  }));
  const list = {
    text: "What the newer model changed",
    hint: "Kept, moved, new, gone and doubtful faces",
    onSelect: () => set({ revisionShown: true }),
  };
  return (
    <>
      <Menu
        text="Model"
        title={project.model.file}
        items={[
          {
            text: "Put a newer model in its place…",
            hint: "The finishes are carried over; undo brings this one back",
            onSelect: () => chooser.current?.click(),
          },
          ...(project.model.revised ? [list] : []),
          ...originals,
        ]}
      />
      <input
        ref={chooser}
        type="file"
        multiple
        className="hidden"
        data-testid="newer-files"
        onChange={(event) => {
          setFiles([...(event.target.files ?? [])]);
          event.target.value = "";
        }}
      />
      {files.length > 0 && (
        <ImportDialog
          files={files}
          action="Replace the model"
          onClose={() => setFiles([])}
          onTake={async (importId, opening) => {
            const body = { ...opening, import_id: importId, revision: project.revision };
            take(await sendJson<Project>("POST", `/projects/${project.id}/model`, body));
            setFiles([]);
            set({ revisionShown: true });
          }}
        />
      )}
    </>
  );
}
