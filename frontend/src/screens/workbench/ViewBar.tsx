import { LOOK_CHOICES } from "../../looks/registry";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import type { Project } from "../../api/wire.gen";

import { CutMenu } from "./CutMenu";
import { ViewMenu } from "./ViewMenu";
import { useDesk } from "../../state/desk";
import { put } from "../../state";
import { useLook } from "../../state/look";

/** What the view shows and from where. */
export function ViewBar({ project }: { project: Project }) {
  const look = useLook((s) => s.look);
  const task = useDesk((s) => s.task);
  return (
    <section
      aria-label="View"
      className="absolute bottom-2.5 left-2.5 flex max-w-[calc(100%-1.25rem)] flex-wrap items-center gap-x-3 gap-y-1.5 border border-rule bg-paper/95 px-2.5 py-1.5"
    >
      <span className="label">Look</span>
      <Choice label="Look" value={look} onChange={(value) => put({ look: value })} options={LOOK_CHOICES} />
      <ViewMenu project={project} />
      <CutMenu project={project} />
      <Button
        aria-pressed={task?.what === "tape"}
        look={task?.what === "tape" ? "main" : "plain"}
        title="Click two places: the length over the surface between them, and what of the pattern lies there (M)"
        onClick={() => put({ task: task?.what === "tape" ? null : { what: "tape", from: null }, tape: null })}
      >
        Tape
      </Button>
    </section>
  );
}
