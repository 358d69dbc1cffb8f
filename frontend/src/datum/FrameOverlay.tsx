import { Vector3 } from "three";

import { useDatumDrawing } from "../api/project";
import type { Finish, Frame, Pair, Project, Triple } from "../api/wire.gen";
import { pixelOf, useEye, type Eye } from "../model/eye";
import { useDesk } from "../state/desk";
import { liveOf, useHand, withLive } from "../state/hand";
import { useLook } from "../state/look";
import { mm } from "../ui/numbers";
import { DragReadout } from "./DragReadout";
import { GuideVeil } from "./GuideVeil";
import { LineGrips } from "./LineGrips";
import type { Drawn } from "./drawn";
import { FlowGrips } from "./FlowGrips";
import { arranged, type Label } from "./labels";
import { LabelText, Stroke } from "./marks";
import { SurfaceSheet } from "./SurfaceSheet";
import { useDrag } from "./useDrag";

/** The borders that a flow runs between, its corners as grips, and how much of the sheet lies between them. */
export function FrameOverlay({ project }: { project: Project }) {
  const rows = useDesk((s) => s.rows);
  const shown = useLook((s) => s.datumShown);
  const trials = useDesk((s) => s.trials);
  const live = useHand(liveOf(rows.length === 1 ? rows[0] : undefined));
  const eye = useEye();
  const chosen = rows.length === 1 ? (project.finishes.find((f) => f.key === rows[0]) ?? null) : null;
  const { data: drawing } = useDatumDrawing(project, chosen);
  const coated = useDesk((s) => s.coat !== null && s.coat.finish === s.rows[0]);
  if (!chosen || !shown || trials || coated || !eye.camera || !drawing?.frames?.length) return null;
  return <Frames project={project} stored={chosen} finish={withLive(chosen, live)} frames={drawing.frames} eye={eye} />;
}

interface Props {
  project: Project;
  stored: Finish;
  finish: Finish;
  frames: Frame[];
  eye: Eye;
}

function Frames({ project, stored, finish, frames, eye }: Props) {
  const { begin, readout } = useDrag(project.id);
  const [x, y, z] = project.model.view_origin_mm;
  const pixel = ([a, b, c]: Triple) => pixelOf(eye, new Vector3(a - x, b - y, c - z));
  const path = (points: Triple[]) => {
    const at = points.map(pixel);
    return at.every((p) => p.before) ? `M${at.map((p) => p.at.map((v) => v.toFixed(1)).join(" ")).join("L")}` : "";
  };
  const only = frames.length === 1 ? frames[0]! : null;
  const drawn: Drawn = { stored, finish, eye, viewOrigin: project.model.view_origin_mm, pixel, path, begin };
  return (
    <>
      <svg
        aria-label="Borders"
        data-testid="frame"
        className="pointer-events-none absolute inset-0 h-full w-full overflow-hidden"
      >
        {only?.form === "drape" && <GuideVeil {...drawn} frame={only} />}
        {/* A guide draws its own outline, which goes along with the hand. */}
        {(only?.form === "drape" ? [] : frames).flatMap((frame, k) =>
          byName(frame).map(([name, lines]) => (
            <Stroke key={`${k} ${name}`} d={lines.map(path).join("")} look={LOOKS[name] ?? "line"} />
          )),
        )}
        {only && <FlowGrips {...drawn} projectId={project.id} frame={only} />}
        <LineGrips {...drawn} />
        <SurfaceSheet project={project} stored={stored} finish={finish} eye={eye} begin={begin} />
        {only &&
          sizesOf(only, pixel, eye).map(({ text, at }) => <LabelText key={text + at.join()} at={at} text={text} />)}
      </svg>
      {readout && <DragReadout readout={readout} />}
    </>
  );
}

/** The lines of one name are drawn as one. */
function byName(frame: Frame): [string, Triple[][]][] {
  const out = new Map<string, Triple[][]>();
  for (const { name, points } of frame.lines) out.set(name, [...(out.get(name) ?? []), points]);
  return [...out];
}

const LOOKS: Record<string, "sheet" | "seam" | "line" | "faint"> = {
  first: "sheet",
  far: "line",
  end: "faint",
  beginning: "faint",
  cut: "seam",
  start: "sheet",
};

/** The length along the first border and the width across, written beside them. */
function sizesOf(frame: Frame, pixel: (p: Triple) => { at: Pair; before: boolean }, eye: Eye): Label[] {
  if (!frame.size_mm) return [];
  const [along, across] = frame.size_mm;
  const aside = frame.form === "strip" ? frame.lines[3] : frame.lines.find((line) => line.name === "cut");
  const first = frame.lines[0];
  const labels = [
    first && { text: `along ${mm(along)}`, place: first.points[first.points.length >> 1]! },
    aside && { text: `across ${mm(across)}`, place: aside.points[aside.points.length >> 1]! },
  ].flatMap((label) => {
    const found = label && pixel(label.place);
    return found?.before ? [{ text: label!.text, at: [found.at[0], found.at[1] - 14] as Pair }] : [];
  });
  return arranged(labels, [], eye.width, eye.height);
}
