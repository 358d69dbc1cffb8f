import type { WorkbenchContext } from "../../../commands/command";
import { commandOf, withKey } from "../../../commands/registry";
import { CommandButton } from "../../../commands/CommandButton";
import { PROJECTION_CHOICES } from "../../../projections/registry";
import { put } from "../../../state";
import { useDesk } from "../../../state/desk";
import { usePick } from "../../../state/pick";
import { Picker } from "../../../ui/Picker";
import { area, plain } from "../../../ui/numbers";
import { LiesThereLines } from "./LiesThereLines";
import { MaterialChoice, NextMaterial, useNextMaterial } from "./MaterialChoice";

/** A material on the pick: two choices and a button. */
export function LayPanel({ context }: { context: WorkbenchContext }) {
  const { project } = context;
  const pick = usePick((s) => s.pick);
  const kind = useDesk((s) => s.kind);
  const { material } = useNextMaterial(project);
  const shown = material ? (pick.areaM2 * 1e6) / (material.repeat_mm[0] * material.repeat_mm[1]) : 0;
  return (
    <section aria-label="Lay" className="px-4 py-3">
      <h2 className="heading">Lay a material on the pick</h2>
      <LiesThereLines project={project} />
      <MaterialChoice project={project} />
      <NextMaterial project={project}>
        {shown < 0.95 ? ", more than the pick" : `, ${plain(shown, shown < 10 ? 1 : 0)} times on the pick`}
      </NextMaterial>
      <div className="mb-2.5">
        <Picker
          label="Projection"
          value={kind}
          onChange={(value) => put({ kind: value })}
          options={PROJECTION_CHOICES}
        />
      </div>
      <div className="flex gap-1.5">
        <CommandButton
          look="main"
          className="h-9! flex-1"
          command={commandOf("lay")}
          context={context}
          title={withKey("Adds a row to the schedule; it covers what lies there now", "lay")}
        >
          Lay on the pick ({area(pick.areaM2)})
        </CommandButton>
        <CommandButton
          className="h-9!"
          command={commandOf("try-all")}
          context={context}
          keyShown={false}
          title={withKey("Lays the pick by every projection and shows them side by side", "try-all")}
        >
          Try all
        </CommandButton>
      </div>
    </section>
  );
}
