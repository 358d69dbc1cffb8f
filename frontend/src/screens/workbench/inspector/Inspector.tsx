import { useEffect, useRef } from "react";

import type { WorkbenchContext } from "../../../commands/command";
import { put } from "../../../state";
import { useDesk } from "../../../state/desk";
import { usePick } from "../../../state/pick";
import { area } from "../../../ui/numbers";
import { Choice } from "../../../ui/Choice";
import { FinishPanel } from "./FinishPanel";
import { LayPanel } from "./LayPanel";
import { NextPanel } from "./NextPanel";

/** The one panel: for the finish in hand, for the pick, or for what to do next. */
export function Inspector({ context }: { context: WorkbenchContext }) {
  const { project } = context;
  const rows = useDesk((s) => s.rows);
  const inHand = useDesk((s) => s.inHand);
  const picked = usePick((s) => s.pick.faces > 0);
  const areaM2 = usePick((s) => s.pick.areaM2);
  const chosen = project.finishes.filter((finish) => rows.includes(finish.key));
  const shown = chosen.length && (!picked || inHand === "finish") ? "finish" : picked ? "pick" : "next";
  const panel = useRef<HTMLElement>(null);
  const before = useRef(shown);
  useEffect(() => {
    // Whoever pressed a button that went with its panel goes on in the panel that came.
    if (before.current !== shown && document.activeElement === document.body) panel.current?.focus();
    before.current = shown;
  }, [shown]);
  return (
    <section
      ref={panel}
      aria-label="Inspector"
      tabIndex={-1}
      className="flex h-full min-h-0 flex-col overflow-x-hidden overflow-y-auto bg-paper outline-none"
    >
      {picked && chosen.length > 0 && (
        <div className="px-4 pt-2">
          <Choice
            label="In hand"
            tight
            value={inHand}
            onChange={(value) => put({ inHand: value })}
            options={[
              { value: "pick", text: `The pick, ${area(areaM2)}` },
              { value: "finish", text: chosen.length === 1 ? `The finish ${rows[0]}` : `${chosen.length} finishes` },
            ]}
          />
        </div>
      )}
      {shown === "finish" && <FinishPanel project={project} finishes={chosen} />}
      {shown === "pick" && <LayPanel context={context} />}
      {shown === "next" && <NextPanel context={context} />}
    </section>
  );
}
