import { createPortal } from "react-dom";
import { Vector3 } from "three";

import type { Project, TapeRead } from "../../../api/wire.gen";
import { mm } from "../../../ui/numbers";
import { pixelOf, useEye } from "../../../model/eye";
import { useDesk } from "../../../state/desk";
import { NOTICE } from "./notice";

/** The tape as it lies on the model, with its length and what of the pattern lies between. */
export function TapeOverlay({ project, notices }: { project: Project; notices: Element | null }) {
  const tape = useDesk((s) => s.tape);
  const task = useDesk((s) => s.task);
  const eye = useEye();
  const [x, y, z] = project.model.view_origin_mm;
  const at = ([px, py, pz]: [number, number, number]) => pixelOf(eye, new Vector3(px - x, py - y, pz - z));
  const from = task?.what === "tape" ? task.from : null;
  if (from) {
    const { at: pixel, before } = at(from.place);
    return (
      <svg className="pointer-events-none absolute inset-0 h-full w-full">
        {before && <circle cx={pixel[0]} cy={pixel[1]} r={5} className="fill-sheet stroke-hand" strokeWidth={2} />}
      </svg>
    );
  }
  if (!tape) return null;
  const ends = tape.points_mm.map(at);
  if (!ends.every((end) => end.before)) return null;
  const line = ends.map(({ at: [px, py] }) => `${px},${py}`).join(" ");
  return (
    <>
      <svg className="pointer-events-none absolute inset-0 h-full w-full">
        <polyline points={line} className="fill-none stroke-sheet" strokeWidth={5} />
        <polyline
          points={line}
          className="fill-none stroke-hand"
          strokeWidth={2}
          strokeDasharray={tape.over_surface ? undefined : "6 4"}
        />
        {[ends[0]!, ends.at(-1)!].map(({ at: [px, py] }, k) => (
          <circle key={k} cx={px} cy={py} r={4} className="fill-sheet stroke-hand" strokeWidth={2} />
        ))}
      </svg>
      {notices &&
        createPortal(
          <output data-testid="tape" className={`${NOTICE} figure bg-paper/95`}>
            <strong className="font-semibold text-hand">{mm(tape.length_mm)} mm</strong>{" "}
            {tape.over_surface ? "over the surface" : "through the air: the surface does not lead there"}
            {tape.over_surface && tape.length_mm - tape.straight_mm > 0.5 && ` (${mm(tape.straight_mm)} straight)`}
            <Between tape={tape} />
          </output>,
          notices,
        )}
    </>
  );
}

function Between({ tape }: { tape: TapeRead }) {
  if (!tape.finish || !tape.repeats) return null;
  const count = (value: number) => (Math.round(value * 100) / 100).toString();
  const ways = (["along", "up"] as const).map((way, k) => {
    const units = tape.units?.[k];
    const told = units == null ? `${count(tape.repeats![k]!)} repeats` : `${count(units)} units`;
    return `${told} ${way}`;
  });
  return (
    <span className="block text-faint">
      {tape.finish} {tape.name}: {ways.join(", ")}
    </span>
  );
}
