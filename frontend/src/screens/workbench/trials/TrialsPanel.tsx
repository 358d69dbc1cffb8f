import { Dialog } from "radix-ui";

import { useLibrary } from "../../../api/project";
import type { Project, Trial } from "../../../api/wire.gen";
import { projectionName } from "../../../projections/registry";
import { Button } from "../../../ui/Button";
import { area, percent } from "../../../ui/numbers";
import { useTrials } from "./useTrials";
import { useDesk } from "../../../state/desk";
import { put } from "../../../state";

/** The same faces by every projection, side by side, best first. */
export function TrialsPanel({ project }: { project: Project }) {
  const trials = useDesk((s) => s.trials);
  const { take } = useTrials(project);
  const { data: library = [] } = useLibrary();
  const material =
    trials && [...Object.values(project.materials), ...library].find((m) => m.key === trials.material)?.name;
  return (
    <Dialog.Root open={trials !== null} onOpenChange={(open) => !open && put({ trials: null })}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/35" />
        <Dialog.Content
          aria-describedby={undefined}
          data-testid="trials"
          className="fixed top-1/2 left-1/2 z-50 flex max-h-[96vh] w-[72rem] max-w-[96vw] -translate-x-1/2 -translate-y-1/2 flex-col border border-ink bg-paper shadow-xl"
        >
          <header className="flex items-baseline gap-4 border-b border-rule px-5 pt-3 pb-2">
            <Dialog.Title className="heading">Trials</Dialog.Title>
            <p className="flex-1">
              {trials && (
                <>
                  {area(trials.list[0]!.area_m2)} {material && `of ${material} `}by every projection, each fitted to it.
                  Best first.
                  {trials.advice && (
                    <strong className="block font-semibold text-wrong" data-testid="trials-advice">
                      {trials.advice}
                    </strong>
                  )}
                </>
              )}
            </p>
            <Dialog.Close asChild>
              <Button shortcut="Esc">Close</Button>
            </Dialog.Close>
          </header>
          <ol className="grid min-h-0 grid-cols-3 gap-px overflow-y-auto bg-rule">
            {trials?.list.map((trial, at) => (
              <Card
                key={at}
                trial={trial}
                picture={trials.pictures[at]}
                best={at === 0 && trials.advice === null}
                onTake={() => take(trial)}
              />
            ))}
          </ol>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

const none = (amount: number) => (amount < 0.00005 ? "–" : null);

interface CardProps {
  trial: Trial;
  picture?: string;
  best: boolean;
  onTake: () => void;
}

function Card({ trial, picture, best, onTake }: CardProps) {
  const name = projectionName(trial.projection);
  return (
    <li className={`flex flex-col p-3 ${best ? "bg-hand-wash" : "bg-paper"}`} data-testid="trial">
      <div className="mb-2 aspect-[2.2] overflow-hidden border border-rule bg-table">
        {picture ? (
          <img src={picture} alt={`The pick laid by ${name}`} className="h-full w-full object-cover" />
        ) : (
          <p className="grid h-full place-items-center text-faint">Drawing…</p>
        )}
      </div>
      <div className="flex items-center gap-2">
        <h3 className="heading flex-1">
          {name}
          {best && (
            <span className="ml-2 bg-hand px-1.5 py-0.5 align-[1px] text-[13px] font-medium text-white">best</span>
          )}
        </h3>
        <Button look={best ? "main" : "plain"} aria-label={`Take ${name}`} onClick={onTake}>
          Take it
        </Button>
      </div>
      <dl className="figure my-1 flex flex-wrap gap-x-3">
        <Figure label="true" value={percent(trial.true_share)} />
        <Figure
          label="smeared"
          value={none(trial.smeared_m2) ?? area(trial.smeared_m2)}
          wrong={trial.smeared_m2 > 0.00005}
        />
        <Figure label="open seams" value={none(trial.seams_m) ?? `${trial.seams_m.toFixed(1)} m`} />
        <Figure
          label="mirrored"
          value={none(trial.mirrored_m2) ?? area(trial.mirrored_m2)}
          wrong={trial.mirrored_m2 > 0.00005}
        />
      </dl>
      <p className="text-[13px] text-faint first-letter:uppercase">{trial.why}.</p>
    </li>
  );
}

function Figure({ label, value, wrong }: { label: string; value: string; wrong?: boolean }) {
  return (
    <div className="flex items-baseline gap-1">
      <dt className="label">{label}</dt>
      <dd className={wrong ? "text-wrong" : ""}>{value}</dd>
    </div>
  );
}
