import type { WorkbenchContext } from "../../../commands/command";
import { CommandButton } from "../../../commands/CommandButton";
import { commandOf } from "../../../commands/registry";
import { type ClickTask, useDesk } from "../../../state/desk";
import { usePanes } from "../../../state/panes";
import { NOTICE } from "./notice";

const PLACES = { corner: "the corner", edge: "the edge", middle: "the face whose middle" };

function words(task: ClickTask): string {
  switch (task.what) {
    case "fit-face":
      return "Click the face that the projection shall look at.";
    case "seam":
      return "Click the edge that the seam shall run along.";
    case "guide":
      return task.from ? "Click the other edge of the guide." : "Click the first edge of the guide.";
    case "tie":
      return "Click where that place of the sheet shall fall.";
    case "line":
      return "Draw lines on the model; the sheet runs along them.";
    case "brush":
      return "Draw on the model where the coat shall lie.";
    case "line-edge":
      return "Click the edge that the sheet shall run along.";
    case "cut":
      return "Click an edge to cut it, or to close it again. Twice: its whole run. Shift: the way there.";
    case "straighten":
      return "Click beside a border, on the piece that it ends: it becomes a straight line. Again lets it be.";
    case "avoid":
      return "Draw a box on the sheet round what pieces shall keep clear of.";
    case "roll-from":
      return "Click the face that the sheet starts on.";
    case "grain-edge":
      return "Click the edge that the grain shall run along.";
    case "lay-edge":
      return task.to === "joined"
        ? "Click the edge that two pieces shall be joined along; the smaller one moves."
        : `Click the edge that shall lie ${task.to} on the sheet.`;
    case "run-across":
      return "Click beside an edge, on the side that stays; the other side runs on from it.";
    case "tape":
      return task.from ? "Click where the tape ends." : "Click where the tape begins.";
    case "set-out": {
      const unit = task.unit === "joint" ? "a joint" : "the middle of a unit";
      return `Click ${PLACES[task.at]} that ${unit} shall fall on.`;
    }
  }
}

interface Props {
  context: WorkbenchContext;
  /** Over what it stands. */
  on: "model" | "sheet";
}

/** What the next click is for, where it is not for picking: over the model, or over the sheet where that is meant or alone. */
export function TaskBanner({ context, on }: Props) {
  const task = useDesk((s) => s.task);
  const alone = usePanes((s) => s.flat === "instead");
  if (!task || (task.what === "avoid" || alone ? "sheet" : "model") !== on) return null;
  return (
    <div role="status" className={`${NOTICE} order-first flex items-center gap-3 bg-hand-wash`}>
      {words(task)}
      <CommandButton look="quiet" command={commandOf("leave-task")} context={context}>
        {task.what === "tape" ? "Put it away" : "Leave it"}
      </CommandButton>
    </div>
  );
}
