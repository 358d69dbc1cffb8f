import { Vector3 } from "three";

import { useDatumDrawing, useEdits } from "../api/project";
import type { Finish, Frame, Pair, Project, Triple } from "../api/wire.gen";
import { pixelOf, useEye, type Eye } from "../model/eye";
import { useDesk } from "../state/desk";
import { liveOf, useHand, withLive } from "../state/hand";
import { useLook } from "../state/look";
import { mm } from "../ui/numbers";
import { DragReadout } from "./DragReadout";
import { GuideVeil } from "./GuideVeil";
import { LineGrips } from "./LineGrips";
import { moveCorner, moveStart } from "./corners";
import { arranged, type Label } from "./labels";
import { Grip, LabelText, Stroke } from "./marks";
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
  if (!chosen || !shown || trials || !eye.camera || !drawing?.frames?.length) return null;
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
  const { run } = useEdits(project.id);
  const { begin, readout } = useDrag(project.id);
  const [x, y, z] = project.model.view_origin_mm;
  const pixel = ([a, b, c]: Triple) => pixelOf(eye, new Vector3(a - x, b - y, c - z));
  const path = (points: Triple[]) => {
    const at = points.map(pixel);
    return at.every((p) => p.before) ? `M${at.map((p) => p.at.map((v) => v.toFixed(1)).join(" ")).join("L")}` : "";
  };
  const only = frames.length === 1 ? frames[0]! : null;
  const flow = stored.projection.kind === "flow" ? stored.projection : null;
  const flowing = finish.projection.kind === "flow" ? finish.projection : null;
  // A guide draws its own outline, which goes along with the hand.
  const drawn = frames.filter((frame) => frame.form !== "drape");
  // Those under the hand, or as the server found them.
  const moved = finish.projection !== stored.projection ? flowing : null;
  const corners = only && flow ? (moved?.corners ?? only.corners) : [];
  const begunBy = (border: number) => {
    if (!flow) return;
    const options = { kind: "flow" as const, shift: (flow.shift + border) % 4 };
    run({ kind: "set_options", finishes: [stored.key], options });
  };
  return (
    <>
      <svg
        aria-label="Borders"
        data-testid="frame"
        className="pointer-events-none absolute inset-0 h-full w-full overflow-hidden"
      >
        {only?.form === "drape" && (
          <GuideVeil
            stored={stored}
            finish={finish}
            frame={only}
            eye={eye}
            viewOrigin={project.model.view_origin_mm}
            pixel={pixel}
            begin={begin}
          />
        )}
        {drawn.flatMap((frame, k) =>
          frame.lines.map(({ name, points }) => (
            <Stroke key={`${k} ${name}`} d={path(points)} look={LOOKS[name] ?? "line"} />
          )),
        )}
        {only?.form === "strip" &&
          only.lines.map(({ name, points }, border) => (
            <path
              key={name}
              d={path(points)}
              fill="none"
              strokeWidth={14}
              className="pointer-events-auto cursor-pointer stroke-transparent hover:stroke-hand/30"
              role="button"
              aria-label={border === 0 ? "The first border" : `Begin at the ${name} border`}
              data-testid={`border-${border}`}
              onClick={() => border > 0 && begunBy(border)}
            >
              <title>
                {border === 0 ? "The sheet begins at this border" : "Click: the sheet begins at this border"}
              </title>
            </path>
          ))}
        {only && flow && (only.form === "ring" || only.form === "tube") && (
          <Grip
            shape="origin"
            at={pixel(moved?.start ?? only.corners[0]!).at}
            label="Where the sheet begins"
            testid="flow-start"
            onDown={(event) => begin(stored, moveStart(eye, flow, only, project.model.view_origin_mm), event)}
          />
        )}
        {only?.size_mm && <Arrow points={only.lines[0]?.points ?? []} pixel={pixel} />}
        {only?.form === "strip" &&
          corners.map((corner, k) => {
            const { at, before } = pixel(corner);
            return before ? (
              <Grip
                key={k}
                shape={k === 0 ? "origin" : "move"}
                at={at}
                label={k === 0 ? "Where the sheet begins" : `Corner ${k + 1} of the flow`}
                testid={`corner-${k}`}
                onDown={(event) => begin(stored, moveCorner(eye, flow!, only, k, project.model.view_origin_mm), event)}
              />
            ) : null;
          })}
        <LineGrips
          stored={stored}
          finish={finish}
          eye={eye}
          viewOrigin={project.model.view_origin_mm}
          pixel={pixel}
          path={path}
          begin={begin}
        />
        <SurfaceSheet project={project} stored={stored} finish={finish} eye={eye} begin={begin} />
        {only &&
          sizesOf(only, pixel, eye).map(({ text, at }) => <LabelText key={text + at.join()} at={at} text={text} />)}
      </svg>
      {readout && <DragReadout readout={readout} />}
    </>
  );
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

/** Which way the sheet runs along its first border. */
function Arrow({ points, pixel }: { points: Triple[]; pixel: (p: Triple) => { at: Pair; before: boolean } }) {
  if (points.length < 2) return null;
  const at = points.map(pixel);
  if (at.some((p) => !p.before)) return null;
  const ends = at.map((p) => p.at);
  const lengths = ends.slice(1).map((p, k) => Math.hypot(p[0] - ends[k]![0], p[1] - ends[k]![1]));
  let left = lengths.reduce((sum, length) => sum + length, 0) * 0.62;
  const k = lengths.findIndex((length) => (left -= length) <= 0);
  if (k < 0 || lengths[k]! < 1e-6) return null;
  const [a, b] = [ends[k]!, ends[k + 1]!];
  const turn = (Math.atan2(b[1] - a[1], b[0] - a[0]) * 180) / Math.PI;
  const share = 1 + left / lengths[k]!;
  const [x, y] = [a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share];
  return (
    <path
      d="M-9 -6L5 0L-9 6Z"
      transform={`translate(${x.toFixed(1)} ${y.toFixed(1)}) rotate(${turn.toFixed(1)})`}
      className="fill-hand stroke-sheet"
      strokeWidth={1.5}
      data-testid="runs-along"
    />
  );
}
