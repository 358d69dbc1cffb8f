import { Trash2 } from "lucide-react";
import { Popover } from "radix-ui";

import { imageUrl } from "../../../api/client";
import { useEdits } from "../../../api/project";
import { useForget } from "../picking/useForget";
import type { Project } from "../../../api/wire.gen";
import { Button, Key } from "../../../ui/Button";
import { Choice } from "../../../ui/Choice";
import { Flyout } from "../../../ui/Flyout";
import { NameField } from "../../../ui/NameField";

import { goToSaved, savedFromEye, useEye } from "../../../model/eye";
import { put } from "../../../state";
import { goTo, useLook } from "../../../state/look";
import { VIEWS } from "../../../commands/viewing";

const EDGES = [
  { value: "patches" as const, text: "Patches", hint: "Lines where patches meet" },
  { value: "faces" as const, text: "Faces", hint: "The edges of every face" },
  { value: "none" as const, text: "None" },
];

/** Where the eye stands: straight views, a turntable, and views that are kept with a picture. */
export function ViewMenu({ project }: { project: Project }) {
  const going = useLook((s) => s.going);
  const edges = useLook((s) => s.edges);
  const turning = useLook((s) => s.turning);
  const { run } = useEdits(project.id);
  const forget = useForget(project.id);
  const origin = project.model.view_origin_mm;
  return (
    <Flyout
      text={going.saved ? "A kept view" : VIEWS.find((view) => view.value === going.view)?.text}
      label="Views"
      title="Where the eye stands, and kept views"
      className="flex max-h-[80vh] gap-4"
    >
      <div className="w-48">
        <ul>
          {VIEWS.map((view) => (
            <li key={view.value}>
              <Popover.Close asChild>
                <button
                  type="button"
                  className="flex w-full justify-between px-2 py-1 hover:bg-hand-wash"
                  onClick={() => goTo(view.value)}
                >
                  {view.text} <Key>{view.key}</Key>
                </button>
              </Popover.Close>
            </li>
          ))}
        </ul>
        <div className="mt-2 border-t border-rule px-2 pt-2">
          <Button className="w-full" aria-pressed={turning} onClick={() => put({ turning: !turning })}>
            {turning ? "Stop the turntable" : "Turntable"}
          </Button>
          <p className="label mt-2 mb-1">Edges</p>
          <Choice label="Edges" value={edges} onChange={(value) => put({ edges: value })} options={EDGES} />
        </div>
      </div>
      <div className="w-80 overflow-auto border-l border-rule pl-4">
        <h3 className="heading mb-1.5">Kept views</h3>
        {project.views.length === 0 && <p className="mb-2 text-faint">None is kept yet.</p>}
        <ul className="mb-2 grid grid-cols-2 gap-2">
          {project.views.map((view) => (
            <li key={view.key} className="relative border border-rule bg-sheet">
              <Popover.Close asChild>
                <button
                  type="button"
                  className="block w-full text-left hover:text-hand"
                  onClick={() => goToSaved(view, origin)}
                >
                  {view.picture && (
                    <img src={imageUrl(view.picture)} alt="" className="aspect-[8/5] w-full object-cover" />
                  )}
                  <span className="block truncate py-0.5 pr-6 pl-1.5">{view.name}</span>
                </button>
              </Popover.Close>
              <button
                type="button"
                aria-label={`Forget ${view.name}`}
                className="absolute right-1 bottom-1 text-faint hover:text-wrong"
                onClick={() => forget("view", view)}
              >
                <Trash2 size={14} />
              </button>
            </li>
          ))}
        </ul>
        <NameField
          label="Keep this view as"
          action="Keep"
          onName={(name) => {
            const eye = useEye.getState();
            run({ kind: "keep_view", name, ...savedFromEye(eye, origin), picture: eye.picture?.() ?? null });
          }}
        />
      </div>
    </Flyout>
  );
}
