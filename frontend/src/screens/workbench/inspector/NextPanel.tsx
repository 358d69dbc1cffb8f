import { Link } from "react-router";

import type { WorkbenchContext } from "../../../commands/command";
import { CommandButton } from "../../../commands/CommandButton";
import { commandOf } from "../../../commands/registry";
import { Button } from "../../../ui/Button";
import { area, counted } from "../../../ui/numbers";
import { usePicking } from "../picking/usePicking";
import { MaterialChoice, NextMaterial } from "./MaterialChoice";

/** Nothing is in hand: what to do next with this model. */
export function NextPanel({ context }: { context: WorkbenchContext }) {
  const { project } = context;
  const pick = usePicking(project.id);
  const { bare, finishes } = project;
  return (
    <section aria-label="Next" className="px-4 py-3">
      <h2 className="heading mb-1">{finishes.length === 0 ? "Begin here" : "What next"}</h2>
      {project.model.note && (
        <p className="mb-3 border-l-[3px] border-hand bg-hand-wash px-2.5 py-1.5" data-testid="try">
          {project.model.note}
        </p>
      )}
      {finishes.length === 0 ? (
        <FirstLaying context={context} />
      ) : (
        <>
          {bare.faces > 0 && (
            <p className="mb-3">
              {counted(bare.faces, "face")}, {area(bare.area_m2)}, {bare.faces === 1 ? "is" : "are"} bare.
              <Button
                className="mt-1.5 flex w-full"
                onClick={() => void pick({ how: "replace", figure: { figure: "bare" } })}
              >
                Pick what is bare
              </Button>
            </p>
          )}
          <p className="mb-3">
            {bare.faces === 0 && "Every face has a finish. "}
            <Link to={`/projects/${project.id}/hand-over`} className="text-hand underline underline-offset-2">
              Hand it over
            </Link>{" "}
            when it looks right; what is worth another look is listed there.
          </p>
        </>
      )}
      <h3 className="mb-1 border-t border-rule pt-2.5 font-figure font-semibold">On the model</h3>
      <ul className="grid gap-1 text-faint">
        <li>Click a surface to pick it; Shift adds, Ctrl takes off.</li>
        <li>Drag to look round, right button to pan, wheel to come close.</li>
        <li>By keyboard: arrows turn, + and − come close, Enter picks what is at the middle mark.</li>
      </ul>
      <p className="mt-3 flex flex-wrap items-center gap-1.5">
        <CommandButton command={commandOf("search")} context={context}>
          Find a command
        </CommandButton>
        <CommandButton command={commandOf("keys")} context={context}>
          All keys
        </CommandButton>
      </p>
    </section>
  );
}

/** A model without any finish: a material and one press. */
function FirstLaying({ context }: { context: WorkbenchContext }) {
  return (
    <>
      <p className="mb-2">Choose a material, and lay it on the largest faces; or pick faces of the model first.</p>
      <MaterialChoice project={context.project} />
      <NextMaterial project={context.project} />
      <CommandButton
        look="main"
        className="mb-4 h-9! w-full"
        command={commandOf("lay-largest")}
        context={context}
        keyShown={false}
      >
        Lay it on the largest faces
      </CommandButton>
    </>
  );
}
