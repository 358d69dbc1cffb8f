import type { Project } from "../../api/wire.gen";
import { Button } from "../../ui/Button";
import { count } from "../../ui/numbers";
import { useSight } from "./useSight";
import { usePick } from "../../state/pick";

/** Hide the pick, see it alone, or see everything again. */
export function InSight({ project }: { project: Project }) {
  const picked = usePick((s) => s.pick.faces > 0);
  const hidden = usePick((s) => s.hidden.faces);
  const sight = useSight(project.id);
  return (
    <span className="flex border-l border-rule pl-1 [&>button]:px-1.5">
      <Button
        look="quiet"
        disabled={!picked}
        onClick={() => sight("hide")}
        shortcut="H"
        title="Puts the pick out of sight"
      >
        Hide
      </Button>
      <Button
        look="quiet"
        disabled={!picked}
        onClick={() => sight("isolate")}
        shortcut="J"
        title="Shows the pick alone"
      >
        Isolate
      </Button>
      {hidden > 0 && (
        <Button
          look="wrong"
          onClick={() => sight("show all")}
          shortcut="⇧H"
          title="What is hidden is still covered and handed over"
        >
          {count(hidden)} hidden: show all
        </Button>
      )}
    </span>
  );
}
