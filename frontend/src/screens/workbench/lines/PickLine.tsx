import type { WorkbenchContext } from "../../../commands/command";
import { CommandButton } from "../../../commands/CommandButton";
import { commandOf } from "../../../commands/registry";
import { usePick } from "../../../state/pick";
import { count } from "../../../ui/numbers";
import { PickedLine } from "./PickedLine";
import { PickMenu } from "./PickMenu";
import { PickSentence } from "./PickSentence";

/** One row over the model: what the next press picks, and what is picked now. */
export function PickLine({ context }: { context: WorkbenchContext }) {
  const hidden = usePick((s) => s.hidden.faces);
  return (
    <section
      aria-label="Pick"
      className="flex h-8 shrink-0 items-center gap-3 overflow-x-auto overflow-y-hidden [scrollbar-width:none] border-b border-rule px-4 whitespace-nowrap"
    >
      <PickSentence model={context.project.model} />
      <PickedLine context={context} />
      {hidden > 0 && (
        <CommandButton
          look="wrong"
          className="h-6!"
          command={commandOf("show-all")}
          context={context}
          title="What is hidden is still covered and handed over"
        >
          {count(hidden)} out of sight: show
        </CommandButton>
      )}
      <PickMenu context={context} />
      <CommandButton look="quiet" className="-ml-2 h-6!" command={commandOf("search")} context={context}>
        Find
      </CommandButton>
    </section>
  );
}
