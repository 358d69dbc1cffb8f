import { LOOK_CHOICES } from "../../looks/registry";
import type { WorkbenchContext } from "../../commands/command";
import { CommandButton } from "../../commands/CommandButton";
import { commandOf, withKey } from "../../commands/registry";
import { Choice } from "../../ui/Choice";

import { CutMenu } from "./CutMenu";
import { ViewMenu } from "./ViewMenu";
import { useDesk } from "../../state/desk";
import { put } from "../../state";
import { useLook } from "../../state/look";

/** What the view shows and from where. */
export function ViewBar({ context }: { context: WorkbenchContext }) {
  const { project } = context;
  const look = useLook((s) => s.look);
  const measuring = useDesk((s) => s.task?.what === "tape");
  return (
    <section
      aria-label="View"
      className="absolute bottom-2.5 left-2.5 flex max-w-[calc(100%-1.25rem)] flex-wrap items-center gap-x-3 gap-y-1.5 border border-rule bg-paper/95 px-2.5 py-1.5"
    >
      <span className="label">Look</span>
      <Choice label="Look" value={look} onChange={(value) => put({ look: value })} options={LOOK_CHOICES} />
      <ViewMenu project={project} />
      <CutMenu project={project} />
      <CommandButton
        command={commandOf("tape")}
        context={context}
        keyShown={false}
        aria-pressed={measuring}
        look={measuring ? "main" : "plain"}
        title={withKey(
          "Click two places: the length over the surface between them, and what of the pattern lies there",
          "tape",
        )}
      >
        Tape
      </CommandButton>
    </section>
  );
}
