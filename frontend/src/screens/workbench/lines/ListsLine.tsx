import { ChevronDown, ChevronUp } from "lucide-react";

import { useTotals } from "../../../api/project";
import type { FigureName, Project } from "../../../api/wire.gen";
import type { WorkbenchContext } from "../../../commands/command";
import { commandOf, withKey } from "../../../commands/registry";
import { usePanes, type List } from "../../../state/panes";
import { area, count, counted } from "../../../ui/numbers";
import { PartsTools } from "../parts/PartsTools";
import { ScheduleTools } from "../schedule/ScheduleTools";
import { usePicking } from "../picking/usePicking";

/** The heads of the lists below the model, and what the schedule comes to while it is closed. */
export function ListsLine({ context }: { context: WorkbenchContext }) {
  const list = usePanes((s) => s.list);
  return (
    <div className={`flex items-center gap-2 pl-2 ${list === null ? "min-w-0 flex-1 justify-end" : "ml-auto"}`}>
      {list === null && <Sums project={context.project} />}
      {list === "parts" && <PartsTools project={context.project} />}
      {list === "schedule" && <ScheduleTools />}
      <Head list="schedule" open={list === "schedule"} context={context}>
        Schedule
      </Head>
      <Head list="parts" open={list === "parts"} context={context}>
        Parts
      </Head>
    </div>
  );
}

interface HeadProps {
  list: List;
  open: boolean;
  context: WorkbenchContext;
  children: string;
}

function Head({ list, open, context, children }: HeadProps) {
  const Icon = open ? ChevronDown : ChevronUp;
  return (
    <button
      type="button"
      aria-expanded={open}
      title={withKey(open ? "Closes the list" : "Opens the list below the model", `list-${list}`)}
      onClick={() => commandOf(`list-${list}`).run(context)}
      className={`flex items-center gap-1 font-medium hover:text-hand ${open ? "text-hand" : ""}`}
    >
      {children} <Icon size={14} aria-hidden />
    </button>
  );
}

/** Large areas are read in whole m². */
const round = (m2: number) => (m2 >= 100 ? `${count(Math.round(m2))} m²` : area(m2));

/**
 * The schedule in one line; each figure that stands for faces picks them. What is wrong comes first, and a figure that
 * finds no room is left out whole: the schedule itself has it.
 */
function Sums({ project }: { project: Project }) {
  const pick = usePicking(project.id);
  const { data: sums } = useTotals(project);
  if (!sums) return null;
  const figures: { figure: FigureName; text: string; there: boolean; wrong: boolean }[] = [
    { figure: "smeared", text: `smeared ${round(sums.smeared_m2)}`, there: sums.smeared_m2 > 0.00005, wrong: true },
    { figure: "mirrored", text: `mirrored ${round(sums.mirrored_m2)}`, there: sums.mirrored_m2 > 0.00005, wrong: true },
    { figure: "bare", text: `bare ${round(sums.bare_m2)}`, there: sums.bare_faces > 0, wrong: false },
    { figure: "covered", text: `covered ${round(sums.area_m2)}`, there: sums.finishes > 0, wrong: false },
    { figure: "seams", text: `seams ${count(Math.round(sums.seams_m))} m`, there: sums.seams_m >= 0.5, wrong: false },
  ];
  return (
    <p
      className="figure flex h-6 min-w-0 flex-1 flex-wrap justify-end gap-x-2 overflow-hidden leading-6 whitespace-nowrap"
      data-testid="sums"
    >
      <span>{sums.finishes === 0 ? "no finish yet" : counted(sums.finishes, "finish", "finishes")}</span>
      {figures
        .filter(({ there }) => there)
        .map(({ figure, text, wrong }) => (
          <button
            key={figure}
            type="button"
            title="Pick these faces"
            onClick={() => void pick({ how: "replace", figure: { figure } })}
            className={`underline decoration-dotted underline-offset-2 hover:text-hand ${wrong ? "text-wrong" : ""}`}
          >
            {text}
          </button>
        ))}
      {sums.finishes > 0 && sums.bare_faces === 0 && <span>nothing bare</span>}
    </p>
  );
}
