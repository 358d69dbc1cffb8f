import { useRef, useState } from "react";

import { sendJson } from "../../../api/client";
import { useTakeProject } from "../../../api/project";
import type { Project, Revising } from "../../../api/wire.gen";
import { Import } from "../../imports/Import";
import { PlaceDialog } from "../model/PlaceDialog";
import { SourcesDialog } from "../model/SourcesDialog";
import { Menu } from "../../../ui/Menu";
import { FileInput } from "../../../ui/FileInput";
import { counted } from "../../../ui/numbers";
import { useNotices } from "../../../ui/notices";
import { put } from "../../../state";

function brought({ model }: Project): string {
  const images = new Set(model.sources.flatMap((s) => Object.values(s.textures).map((t) => t?.image)));
  const told = [
    counted(model.sources.length, "material"),
    counted(images.size, "image"),
    counted(model.uv_sets, "UV set"),
  ];
  return model.sources.length ? told.join(", ") : "None";
}

function largestSide({ model }: Project): number {
  const [low, high] = model.bounds_mm;
  return Math.max(...low.map((v, k) => high[k]! - v));
}

/** What is done with the model as a whole: a newer one in its place, and the files as they came. */
export function ModelMenu({ project }: { project: Project }) {
  const [files, setFiles] = useState<File[]>([]);
  const chooser = useRef<HTMLInputElement>(null);
  const take = useTakeProject(project.id);
  const originals = (project.model.files ?? []).map((file, number) => ({
    text: `Download ${file.name}`,
    hint: "The file as it came in",
    onSelect: () => window.location.assign(`/api/projects/${project.id}/original/${number}`),
  }));
  const list = {
    text: "What the newer model changed",
    hint: "Kept, moved, new, gone and doubtful faces",
    onSelect: () => put({ revisionShown: true }),
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
          {
            text: "Materials that it brought…",
            hint: brought(project),
            onSelect: () => put({ sourcesShown: true }),
          },
          {
            text: "Unit, axes and place…",
            hint: `Read in ${project.model.unit}, ${project.model.up.toUpperCase()} up`,
            onSelect: () => put({ placingShown: true }),
          },
          ...originals,
        ]}
      />
      <SourcesDialog project={project} />
      <PlaceDialog project={project} />
      <FileInput ref={chooser} data-testid="newer-files" onFiles={setFiles} />
      {files.length > 0 && (
        <Import
          files={files}
          action="Replace the model"
          like={{ up: project.model.up, size_mm: largestSide(project) }}
          onClose={() => setFiles([])}
          onTake={async (importId, opening) => {
            const body: Revising = { ...opening, import_id: importId, revision: project.revision };
            const after = await sendJson<Project>("POST", `/projects/${project.id}/model`, body);
            take(after);
            if (after.said) useNotices.getState().say(after.said);
            setFiles([]);
            put({ revisionShown: true });
          }}
        />
      )}
    </>
  );
}
