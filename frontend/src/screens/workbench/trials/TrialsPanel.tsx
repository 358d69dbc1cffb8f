import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";

import { getJson } from "../../../api/client";
import { useMaterials } from "../../../api/project";
import type { Project, TrialsUnderWay } from "../../../api/wire.gen";
import { projectionName } from "../../../projections/registry";
import { put } from "../../../state";
import { useDesk, type TrialLook, type Trials } from "../../../state/desk";
import { Button } from "../../../ui/Button";
import { Choice } from "../../../ui/Choice";
import { Dialog } from "../../../ui/Dialog";
import { Progress } from "../../../ui/Progress";
import { area } from "../../../ui/numbers";
import { TrialCard } from "./TrialCard";
import { useTrials } from "./useTrials";

const SHOWN: { value: TrialLook; text: string; hint: string }[] = [
  { value: "finish", text: "Finish", hint: "The material as each projection lays it" },
  { value: "checker", text: "Checker", hint: "Squares of a stated size" },
  { value: "stretch", text: "Stretch", hint: "Where the pattern is squeezed or stretched" },
];

/** The same faces by every projection, side by side, best first. */
export function TrialsPanel({ project }: { project: Project }) {
  const trials = useDesk((s) => s.trials);
  const trying = useDesk((s) => s.trying);
  const materials = useMaterials(project);
  const material = materials.find((m) => m.key === trials?.material)?.name;
  if (trying) return <UnderWay key={trying.called} project={project} {...trying} />;
  return (
    <Dialog
      title="Trials"
      open={trials !== null}
      onClose={() => put({ trials: null })}
      className="w-[72rem]"
      testid="trials"
      lead={
        trials && (
          <>
            {area(Math.max(...trials.list.map((trial) => trial.area_m2)))} {material && `of ${material} `}by every
            projection, each fitted to it and seen by the same eye. Best first.
            {trials.advice && (
              <strong className="block font-semibold text-wrong" data-testid="trials-advice">
                {trials.advice}
              </strong>
            )}
          </>
        )
      }
    >
      {trials && <Cards project={project} trials={trials} />}
    </Dialog>
  );
}

/** Of a small pick the trials are there at once, and nobody needs to see that they were waited for. */
const AT_ONCE_MS = 400;

const ASKED_EVERY_MS = 300;

function UnderWay({ project, called, stop }: { project: Project; called: string; stop: () => void }) {
  const [late, setLate] = useState(false);
  useEffect(() => {
    const waiting = window.setTimeout(() => setLate(true), AT_ONCE_MS);
    return () => window.clearTimeout(waiting);
  }, []);
  const { data: step } = useQuery({
    queryKey: ["trials", called],
    queryFn: () => getJson<TrialsUnderWay>(`/projects/${project.id}/trials/${called}`),
    enabled: late,
    refetchInterval: ASKED_EVERY_MS,
    gcTime: 0,
  });
  const doing = `laying the pick by ${step?.projection ? projectionName(step.projection) : "every projection"}`;
  return (
    <Dialog title="Trials" open={late} onClose={stop} className="w-[28rem]" testid="trials-under-way">
      <div className="px-5 py-4">
        <Progress doing={doing} share={step?.share ?? 0} />
        <div className="mt-4 flex justify-end">
          <Button onClick={stop}>Stop</Button>
        </div>
      </div>
    </Dialog>
  );
}

function Cards({ project, trials }: { project: Project; trials: Trials }) {
  const { take } = useTrials(project);
  /** The one that is looked at alone, large. */
  const [large, setLarge] = useState<number | null>(null);
  const shown = trials.list.map((trial, at) => ({ trial, at })).filter(({ at }) => large === null || at === large);
  return (
    <>
      <div className="flex items-center gap-3 border-b border-rule px-5 py-1.5">
        <span className="label">All show</span>
        <Choice
          label="What the trials show"
          tight
          value={trials.shows}
          onChange={(shows) => put({ trials: { ...trials, shows } })}
          options={SHOWN}
        />
        {large !== null && <Button onClick={() => setLarge(null)}>All of them again</Button>}
      </div>
      <ol
        className={`grid min-h-0 ${large === null ? "grid-cols-2" : ""} gap-px overflow-y-auto bg-rule`}
        tabIndex={-1}
      >
        {shown.map(({ trial, at }) => (
          <TrialCard
            key={at}
            trial={trial}
            picture={trials.pictures[trials.shows]?.[at]}
            best={at === 0 && trials.advice === null}
            large={large !== null}
            onLarge={() => setLarge(large === null ? at : null)}
            onTake={() => take(trial)}
          />
        ))}
      </ol>
    </>
  );
}
