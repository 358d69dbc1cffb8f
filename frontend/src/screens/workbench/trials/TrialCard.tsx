import type { Trial } from "../../../api/wire.gen";
import { projectionName } from "../../../projections/registry";
import { Button } from "../../../ui/Button";
import { area, metres, percent } from "../../../ui/numbers";

const none = (amount: number) => (amount < 0.00005 ? "–" : null);

interface CardProps {
  trial: Trial;
  picture?: string;
  best: boolean;
  large: boolean;
  onLarge: () => void;
  onTake: () => void;
}

/** What stands in the place of a picture until it is there. */
const PENDING = "Drawing…";

/** A trial: its picture, what it came to, and the button that takes it. */
export function TrialCard({ trial, picture, best, large, onLarge, onTake }: CardProps) {
  const name = projectionName(trial.projection);
  const alike = trial.alike.map((other) => projectionName(other).toLowerCase());
  const turns = large ? `Show ${name} beside the others` : `Show ${name} large`;
  return (
    <li className={`flex flex-col p-3 ${best ? "bg-hand-wash" : "bg-paper"}`} data-testid="trial">
      <button
        type="button"
        aria-label={picture ? turns : `${turns}. ${PENDING}`}
        className={`mb-2 overflow-hidden border border-rule bg-table ${large ? "max-h-[70vh] self-center" : "aspect-[1.9]"}`}
        onClick={onLarge}
      >
        {picture ? (
          <img src={picture} alt={`The pick laid by ${name}`} className="h-full w-full object-cover" />
        ) : (
          <span className="grid h-full place-items-center text-ink">{PENDING}</span>
        )}
      </button>
      <div className="flex items-center gap-2">
        <h3 className="heading flex-1">
          {name}
          {best && (
            <span className="ml-2 bg-hand px-1.5 py-0.5 align-[1px] text-[13px] font-medium text-white">best</span>
          )}
        </h3>
        <Button look={best ? "main" : "plain"} aria-label={`Take it: ${name}`} onClick={onTake}>
          Take it
        </Button>
      </div>
      {alike.length > 0 && (
        <p>
          Comes out alike: <span className="font-medium">{alike.join(", ")}</span>
        </p>
      )}
      <dl className="figure my-1 flex flex-wrap gap-x-3">
        <Figure label="true" value={percent(trial.true_share)} />
        <Figure
          label="smeared"
          value={none(trial.smeared_m2) ?? area(trial.smeared_m2)}
          wrong={trial.smeared_m2 > 0.00005}
        />
        <Figure label="open seams" value={none(trial.seams_m) ?? metres(trial.seams_m, 1)} />
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
