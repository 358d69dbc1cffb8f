import { Popover } from "radix-ui";

import type { WorkbenchContext } from "../../../commands/command";
import { CommandButton } from "../../../commands/CommandButton";
import { commandOf } from "../../../commands/registry";
import { Flyout } from "../../../ui/Flyout";
import { PickSets } from "./PickSets";

const WHOLE = ["pick-all", "pick-none", "pick-invert", "pick-grow", "pick-shrink", "view-pick"];
const SIGHT = ["hide", "isolate", "show-all", "xray"];

/** The rarer things that are done with a pick as a whole, and the picks that are kept under a name. */
export function PickMenu({ context }: { context: WorkbenchContext }) {
  const { pick_sets: kept } = context.project;
  const list = (ids: string[]) =>
    ids.map((id) => (
      <Popover.Close asChild key={id}>
        <CommandButton look="quiet" className="justify-between!" command={commandOf(id)} context={context}>
          {commandOf(id).name}
        </CommandButton>
      </Popover.Close>
    ));
  return (
    <Flyout
      text={
        <>
          More {kept.length > 0 && <span className="label">{kept.length} kept</span>} <span aria-hidden>▾</span>
        </>
      }
      label="More picking"
      title="More that is done with a pick, and picks kept under a name"
      side="bottom"
      align="end"
      className="flex gap-4"
    >
      <div className="grid w-60 content-start">
        {list(WHOLE)}
        <hr className="my-1.5 border-rule" />
        {list(SIGHT)}
      </div>
      <div className="w-72 border-l border-rule pl-4">
        <PickSets project={context.project} />
      </div>
    </Flyout>
  );
}
