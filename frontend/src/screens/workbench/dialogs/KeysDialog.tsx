import { shownKey, type Command } from "../../../commands/command";
import { ARRANGING } from "../../../commands/arranging";
import { FINISHES } from "../../../commands/finishes";
import { PICKING } from "../../../commands/picking";
import { REDO, UNDO } from "../../../commands/project";
import { VIEWING } from "../../../commands/viewing";
import { put } from "../../../state";
import { useDesk } from "../../../state/desk";
import { Key } from "../../../ui/Button";
import { Dialog } from "../../../ui/Dialog";

type Line = Pick<Command<never>, "name" | "key">;

/** Keys that belong to a place rather than to a command. */
const IN_THE_VIEW: Line[] = [
  { name: "Turn the view (with Shift: finely)", key: "arrows" },
  { name: "Pick what is at the middle mark; Shift adds, Ctrl takes off", key: "Enter" },
  { name: "Let go of the task, the pick, or what is typed", key: "Esc" },
];
const WHILE_DRAGGING: Line[] = [
  { name: "Type a number and take it with Enter", key: "0–9" },
  { name: "No snapping", key: "Alt" },
];

const GROUPS: [string, Line[]][] = [
  ["Picking", PICKING],
  ["Looking", VIEWING],
  ["Laying", [...FINISHES, UNDO, REDO]],
  ["The workbench", ARRANGING],
  ["With the model in focus", IN_THE_VIEW],
  ["While dragging", WHILE_DRAGGING],
];

/** Every key of the workbench, in groups. */
export function KeysDialog() {
  const open = useDesk((s) => s.dialog === "keys");
  return (
    <Dialog title="All keys" open={open} onClose={() => put({ dialog: null })} className="w-[64rem]" testid="all-keys">
      <div className="columns-3 gap-8 overflow-auto px-5 py-3">
        {GROUPS.map(([title, lines]) => (
          <section key={title} className="mb-3 break-inside-avoid">
            <h3 className="mb-0.5 border-b border-rule font-figure font-semibold">{title}</h3>
            <ul>
              {lines
                .filter(({ key }) => key)
                .map(({ name, key }) => (
                  <li key={name} className="flex justify-between gap-3 text-[13.5px]">
                    {name} <Key>{shownKey(key!)}</Key>
                  </li>
                ))}
            </ul>
          </section>
        ))}
      </div>
    </Dialog>
  );
}
