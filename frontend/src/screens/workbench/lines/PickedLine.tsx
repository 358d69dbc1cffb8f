import type { WorkbenchContext } from "../../../commands/command";
import { commandOf } from "../../../commands/registry";
import { Key } from "../../../ui/Button";
import { area, count, counted } from "../../../ui/numbers";
import { useUnseen } from "../picking/useUnseen";
import { type PickInHand, usePick } from "../../../state/pick";

const XRAY = commandOf("xray");

/** The pick in words, each thing said once: a pick by faces is not counted again. */
function told({ words, faces, parts }: PickInHand): string {
  const counts = [counted(faces, "face"), counted(parts, "part")];
  return [words, ...counts.filter((text) => text !== words)].join(" · ");
}

/** What is picked now, and how much of it does not show from here. */
export function PickedLine({ context }: { context: WorkbenchContext }) {
  const pick = usePick((s) => s.pick);
  const unseen = usePick((s) => s.unseen);
  const xray = usePick((s) => s.xray);
  useUnseen(context.project);
  return (
    <output className="figure flex min-w-0 flex-1 items-center gap-x-1.5" data-testid="picked">
      {pick.faces > 0 ? (
        <>
          <strong className="font-semibold text-hand">Picked</strong>
          <span className="truncate" title={told(pick)}>
            {told(pick)}
          </span>
          <span>· {area(pick.areaM2)}</span>
          <span data-testid="unseen" className={unseen?.faces ? "text-wrong" : "text-faint"}>
            ·{" "}
            {unseen === null
              ? "looking…"
              : unseen.faces
                ? `${count(unseen.faces)} of them hidden from here (${area(unseen.areaM2)})`
                : "all of it shows"}
          </span>
          {(unseen?.faces ?? 0) > 0 && (
            <button
              type="button"
              aria-pressed={xray}
              onClick={() => XRAY.run(context)}
              title="Shows the pick through the model"
              className={`border px-1.5 leading-[20px] ${xray ? "border-wrong bg-wrong text-white" : "border-rule bg-sheet hover:border-ink"}`}
            >
              show <Key>{XRAY.key!}</Key>
            </button>
          )}
        </>
      ) : (
        <span className="truncate text-faint">Nothing is picked. Click the model; drag to look round.</span>
      )}
    </output>
  );
}
