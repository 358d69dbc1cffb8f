import { memo } from "react";

import type { WorkbenchContext } from "../../../commands/command";
import { CommandButton } from "../../../commands/CommandButton";
import { commandOf, withKey } from "../../../commands/registry";
import { LOOK_CHOICES } from "../../../looks/registry";
import { put } from "../../../state";
import { useDesk } from "../../../state/desk";
import { useLook } from "../../../state/look";
import { usePanes } from "../../../state/panes";
import { Choice } from "../../../ui/Choice";
import { CutMenu } from "./CutMenu";
import { LightMenu } from "./LightMenu";
import { ListsLine } from "./ListsLine";
import { ViewMenu } from "./ViewMenu";

/** What the view shows. An edit does not draw it anew. */
const Looks = memo(function Looks() {
  const look = useLook((s) => s.look);
  return <Choice label="Look" tight value={look} onChange={(value) => put({ look: value })} options={LOOK_CHOICES} />;
});

const FLAT = [
  { value: "off" as const, text: "Model", hint: "The model alone" },
  {
    value: "beside" as const,
    text: "+ Flat",
    hint: "The sheet of the finish in hand beside it, with the pieces on it",
  },
  { value: "instead" as const, text: "Flat", hint: "The sheet in the place of the model" },
];

/** Whether the flat view stands beside the model or in its place. */
const FlatChoice = memo(function FlatChoice() {
  const flat = usePanes((s) => s.flat);
  return <Choice label="Sheet" tight value={flat} onChange={(value) => put({ flat: value })} options={FLAT} />;
});

/** One row under the model: what the view shows, from where, in which light; and what the schedule comes to. */
export function ViewLine({ context }: { context: WorkbenchContext }) {
  const { project } = context;
  const measuring = useDesk((s) => s.task?.what === "tape");
  return (
    <section
      aria-label="View"
      className="figure flex h-8 shrink-0 items-center gap-0.5 overflow-x-auto overflow-y-hidden [scrollbar-width:none] border-t border-ink/70 bg-paper px-2 whitespace-nowrap"
    >
      <FlatChoice />
      <Looks />
      <ViewMenu project={project} />
      <LightMenu />
      <CutMenu project={project} />
      <CommandButton
        className="h-6! px-1.5!"
        command={commandOf("tape")}
        context={context}
        keyShown={false}
        aria-pressed={measuring}
        look={measuring ? "main" : "quiet"}
        title={withKey(
          "Click two places: the length over the surface between them, and what of the pattern lies there",
          "tape",
        )}
      >
        Tape
      </CommandButton>
      <CommandButton
        className="h-6! px-1.5!"
        command={commandOf("save-picture")}
        context={context}
        keyShown={false}
        look="quiet"
        title={withKey("Saves a picture of this view, or of all kept views", "save-picture")}
      >
        Picture
      </CommandButton>
      <ListsLine context={context} />
    </section>
  );
}
