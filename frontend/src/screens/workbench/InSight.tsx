import type { WorkbenchContext } from "../../commands/command";
import { CommandButton } from "../../commands/CommandButton";
import { commandOf } from "../../commands/registry";
import { usePick } from "../../state/pick";
import { count } from "../../ui/numbers";

/** Hide the pick, see it alone, or see everything again. */
export function InSight({ context }: { context: WorkbenchContext }) {
  const hidden = usePick((s) => s.hidden.faces);
  return (
    <span className="flex border-l border-rule pl-1 [&>button]:px-1.5">
      <CommandButton look="quiet" command={commandOf("hide")} context={context} title="Puts the pick out of sight">
        Hide
      </CommandButton>
      <CommandButton look="quiet" command={commandOf("isolate")} context={context} title="Shows the pick alone">
        Isolate
      </CommandButton>
      {hidden > 0 && (
        <CommandButton
          look="wrong"
          command={commandOf("show-all")}
          context={context}
          title="What is hidden is still covered and handed over"
        >
          {count(hidden)} hidden: show all
        </CommandButton>
      )}
    </span>
  );
}
