import { useCoatDrawing } from "../api/project";
import type { Datum, Finish, Pair, Project } from "../api/wire.gen";
import { useEye } from "../model/eye";
import { useDesk } from "../state/desk";
import { liveOf, useHand, withLive } from "../state/hand";
import { useLook } from "../state/look";
import { Drawn, type DrawingProps } from "./DatumOverlay";
import type { Change, Motion, Moved } from "./motions";
import { useDrag } from "./useDrag";

/** The datum and the sheet of the coat that is open, where it has a laying of its own. */
export function CoatDatumOverlay({ project }: { project: Project }) {
  const rows = useDesk((s) => s.rows);
  const coat = useDesk((s) => s.coat);
  const shown = useLook((s) => s.datumShown);
  const trials = useDesk((s) => s.trials);
  const live = useHand(liveOf(coat?.finish));
  const eye = useEye();
  const { begin, readout } = useDrag(project.id);
  const chosen = project.finishes.find((f) => f.key === coat?.finish) ?? null;
  const { data: drawing } = useCoatDrawing(project, chosen, coat?.row ?? null);
  if (!coat || !chosen || rows.join() !== chosen.key || !shown || trials || !eye.camera || !drawing?.datum) return null;
  const { row } = coat;
  const stored = asFinish(project, chosen, row, drawing.datum);
  const finish = asFinish(project, withLive(chosen, live), row, drawing.datum);
  if (!stored || !finish?.datum) return null;
  const coats = (change: Change): Change => ({
    coats: chosen.coats.map((one, at) => (at === row ? { ...one, ...change } : one)),
  });
  const moved = (of: Moved): Moved => ({ ...of, change: coats(of.change) });
  const beginCoat: DrawingProps["begin"] = (_, motion, event) => {
    const move: Motion["move"] = (pixel, held) => {
      const found = motion.move(pixel, held);
      return found && moved(found);
    };
    begin(chosen, { ...motion, move, typed: (values) => moved(motion.typed(values)) }, event);
  };
  return (
    <Drawn
      project={project}
      stored={stored}
      finish={finish}
      datum={finish.datum}
      drawing={drawing}
      eye={eye}
      begin={beginCoat}
      unsized
      readout={readout}
    />
  );
}

/** A coat with a laying of its own as a finish that lies so; null where it has none. datum: as it was fitted. */
function asFinish(project: Project, finish: Finish, row: number, datum: Datum): Finish | null {
  const coat = finish.coats[row];
  const material = coat?.material ? project.materials[coat.material] : undefined;
  if (!coat?.projection || !material) return null;
  const repeat_mm = material.repeat_mm.map((mm, k) => mm * Math.abs(coat.scale[k]!)) as Pair;
  const { projection, turn_deg, offset_mm, scale } = coat;
  return {
    ...finish,
    material: material.key,
    projection,
    datum: coat.datum ?? datum,
    turn_deg,
    offset_mm,
    scale,
    repeat_mm,
  };
}
