import type { PointerEvent as ReactPointerEvent } from "react";
import { Vector3 } from "three";

import { useDatumDrawing } from "../api/project";
import type { Chart, Datum, DatumDrawing, Finish, Pair, Project } from "../api/wire.gen";
import { mm } from "../ui/numbers";
import { lookingFrom, mmAPixel, pixelOf, useEye, type Eye } from "../model/eye";
import { rawOf } from "../model/placement";
import { DragReadout } from "./DragReadout";
import { arranged, type Label } from "./labels";
import { Grip, LabelText, Stroke } from "./marks";
import { axesOf, chartTowards, datumMatrix, vec } from "./frame";
import {
  chartGround,
  moveAlong,
  moveFreely,
  shiftSheet,
  sizeProjector,
  sizeSheet,
  turnAbout,
  turnSheet,
  type Motion,
  type Scene,
} from "./motions";
import { measures, projectorOutlines, sheetLine } from "./outlines";
import { useDrag, type Readout } from "./useDrag";
import { useDesk } from "../state/desk";
import { liveOf, useHand, withLive } from "../state/hand";
import { useLook } from "../state/look";

/** Length of the datum's axes on the screen. */
const ARM = 84;
/** An axis that comes out shorter than this points at the eye and cannot be dragged. */
const SHORTEST = 16;

const WRITTEN_FROM = 170;

/** The projection of the finish in hand, drawn over the model as a drawing would dimension it. */
export function DatumOverlay({ project }: { project: Project }) {
  const rows = useDesk((s) => s.rows);
  const datumShown = useLook((s) => s.datumShown);
  const trials = useDesk((s) => s.trials);
  const live = useHand(liveOf(rows.length === 1 ? rows[0] : undefined));
  const eye = useEye();
  const { begin, readout } = useDrag(project.id);
  const chosen = rows.length === 1 ? (project.finishes.find((f) => f.key === rows[0]) ?? null) : null;
  const { data: drawing } = useDatumDrawing(project, chosen);
  // A coat that is open is what is in hand.
  const coated = useDesk((s) => s.coat !== null && s.coat.finish === s.rows[0]);
  if (!chosen || !datumShown || trials || coated || !eye.camera || !drawing?.datum) return null;
  const finish = withLive(chosen, live);
  if (!finish.datum) return null;
  return (
    <Drawn
      project={project}
      stored={chosen}
      finish={finish}
      datum={finish.datum}
      drawing={drawing}
      eye={eye}
      begin={begin}
      readout={readout}
    />
  );
}

/** The drawing, and the numbers of what is under the hand. */
export function Drawn({ readout, ...of }: DrawingProps & { readout: Readout | null }) {
  const { finish } = of;
  return (
    <>
      <svg
        aria-label="Datum"
        data-testid="datum"
        className="pointer-events-none absolute inset-0 h-full w-full overflow-hidden"
        data-origin={finish.datum!.origin_mm.join()}
      >
        <Drawing {...of} />
      </svg>
      {readout && <DragReadout readout={readout} />}
    </>
  );
}

export interface DrawingProps {
  project: Project;
  stored: Finish;
  finish: Finish;
  datum: Datum;
  drawing: DatumDrawing;
  eye: Eye;
  begin: (finish: Finish, motion: Motion, event: ReactPointerEvent) => void;
  /** Without sizes, where something else is written beside it. */
  unsized?: boolean;
}

function Drawing({ project, stored, finish, datum, drawing, eye, begin, unsized }: DrawingProps) {
  const matrix = datumMatrix(datum);
  const viewOrigin = vec(project.model.view_origin_mm);
  const toView = (p: Vector3) => p.clone().applyMatrix4(matrix).sub(viewOrigin);
  const pixel = (p: Vector3) => pixelOf(eye, toView(p));
  const path = (points: Vector3[]) => {
    const at = points.map(pixel);
    return at.every((p) => p.before) ? `M${at.map((p) => p.at.map((v) => v.toFixed(1)).join(" ")).join("L")}` : "";
  };

  const measured = drawing.projection!;
  const projection = finish.projection;
  const chart = sized(drawing.charts, projection, eyeInDatum(eye, datum));
  const radius = chart?.radius_mm ?? 0;
  const shape = projection.kind === "box" && measured.kind === "box" && !projection.size_mm ? measured : projection;
  const reach = drawing.reach_mm!;

  const origin = pixel(new Vector3());
  // Written sizes would lie over each other where all of it is hardly larger than they are.
  const ends = reach.map((end) => pixel(new Vector3(...end)).at);
  const large = !unsized && Math.hypot(ends[1]![0] - ends[0]![0], ends[1]![1] - ends[0]![1]) > WRITTEN_FROM;
  const arm = ARM * mmAPixel(eye, toView(new Vector3()));
  const scene = (): Scene => ({
    eye,
    // A drag begins at what is stored, whatever is under the hand.
    finish: stored,
    datum: stored.datum!,
    viewOrigin: project.model.view_origin_mm,
    others: project.finishes.flatMap((f) => (f.key !== finish.key && f.datum ? [{ name: f.key, datum: f.datum }] : [])),
  });
  const at = (event: ReactPointerEvent): Pair => {
    const box = event.currentTarget.closest("svg")!.getBoundingClientRect();
    return [event.clientX - box.left, event.clientY - box.top];
  };
  const drag = (make: (scene: Scene, start: Pair) => Motion) => (event: ReactPointerEvent) =>
    begin(stored, make(scene(), at(event)), event);

  const tips = [0, 1, 2].map((k) => pixel(new Vector3().setComponent(k, arm)));
  const far = (k: number) => Math.hypot(tips[k]!.at[0] - origin.at[0], tips[k]!.at[1] - origin.at[1]);
  const sizeGrips =
    projection.kind === "cylindrical" || projection.kind === "spherical"
      ? [1]
      : shape.kind === "box" && shape.corners === "wrapped"
        ? [0, 1]
        : [];
  const middle = projection.kind === "spherical" ? 0 : (reach[0][2] + reach[1][2]) / 2;
  const half = (k: number) => (shape.kind === "box" && shape.size_mm ? shape.size_mm[k]! / 2 : radius);

  const shown = ([0, 1, 2] as const).filter((k) => origin.before && far(k) >= SHORTEST);
  const axes = shown.map((k): Label => ({ text: "xyz"[k]!, at: [tips[k]!.at[0] + 13, tips[k]!.at[1] - 9] }));
  const sizes = large ? measures(shape, reach, radius, mm).map(({ text, at }) => ({ text, at: pixel(at).at })) : [];
  const grips = [...shown.map((k) => tips[k]!.at), origin.at];

  return (
    <>
      {projectorOutlines(shape, reach, radius).map((line, k) => (
        <Stroke key={k} d={path(line.points)} look={line.look} />
      ))}
      {chart && (
        <Sheet
          project={project}
          finish={finish}
          chart={chart}
          path={path}
          pixel={(p) => pixel(p).at}
          view={[eye.width, eye.height]}
          drag={drag}
        />
      )}
      {origin.before && (
        <g>
          {([0, 1, 2] as const).map((axis) => {
            const [a, b] = [(axis + 1) % 3, (axis + 2) % 3];
            const bow = Array.from({ length: 9 }, (_, k) => {
              const turn = ((10 + k * 8.75) * Math.PI) / 180;
              return new Vector3()
                .setComponent(a, 0.6 * arm * Math.cos(turn))
                .setComponent(b, 0.6 * arm * Math.sin(turn));
            });
            const edgeOn = Math.min(far(a), far(b)) < SHORTEST;
            return edgeOn ? null : (
              <g key={axis}>
                <Stroke d={path(bow)} look="line" />
                <Grip
                  shape="turn"
                  at={pixel(bow[4]!).at}
                  label={`Turn the datum about ${"xyz"[axis]}`}
                  testid={`turn-${"xyz"[axis]}`}
                  onDown={drag((s, start) => turnAbout(s, axis, start))}
                />
              </g>
            );
          })}
          {([0, 1, 2] as const).map((axis) =>
            far(axis) < SHORTEST ? null : (
              <g key={axis}>
                <Stroke d={`M${origin.at.join(" ")}L${tips[axis]!.at.join(" ")}`} look="axis" />
                <Grip
                  shape="move"
                  at={tips[axis]!.at}
                  label={`Move the datum along ${"xyz"[axis]}`}
                  testid={`move-${"xyz"[axis]}`}
                  onDown={drag((s, start) => moveAlong(s, axis, start))}
                />
              </g>
            ),
          )}
          <Grip
            shape="origin"
            at={origin.at}
            label="Move the datum"
            testid="move-origin"
            onDown={drag((s) => moveFreely(s))}
          />
        </g>
      )}
      {sizeGrips.map((axis) => (
        <Grip
          key={axis}
          shape="size"
          at={pixel(new Vector3(0, 0, middle).setComponent(axis, half(axis))).at}
          label={projection.kind === "box" ? `Size along ${"xy"[axis]}` : "Radius"}
          testid={projection.kind === "box" ? `size-${"xy"[axis]}` : "size-radius"}
          onDown={drag((s) => sizeProjector(s, radiusStated(shape, radius), axis as 0 | 1))}
        />
      ))}
      {arranged([...axes, ...sizes], grips, eye.width, eye.height).map(({ text, at: place }) => (
        <LabelText key={text + place.join()} at={place} text={text} />
      ))}
    </>
  );
}

/** With the radius that was measured, so that a drag has one to begin from. */
function radiusStated(projection: Finish["projection"], radius: number): Finish["projection"] {
  return projection.kind === "cylindrical" || projection.kind === "spherical"
    ? { ...projection, radius_mm: radius }
    : projection;
}

/** Where the viewer stands, as a direction in datum axes. */
function eyeInDatum(eye: Eye, datum: Datum): Vector3 {
  const towards = vec(lookingFrom(eye).towards);
  const [x, y, z] = axesOf(datum);
  return new Vector3(towards.dot(x), towards.dot(y), towards.dot(z));
}

/** The side to draw the sheet on, with the radius as it is under the hand. */
function sized(charts: Chart[], projection: Finish["projection"], towards: Vector3): Chart | null {
  const chart = chartTowards(charts, towards);
  const stated = "radius_mm" in projection ? projection.radius_mm : null;
  if (!chart || !stated || chart.shape === "flat") return chart;
  return { ...chart, radius_mm: stated, along_mm: (stated * chart.along_mm) / chart.radius_mm };
}

/** A repeat that covers more of the view than this is not tinted: the material is what is to be seen. */
const TINTED = 0.4;

/** The share of the view within the frame of some pixels. */
function shareOfView(pixels: Pair[], [width, height]: Pair): number {
  const within = (k: number, most: number) => {
    const at = pixels.map((pixel) => Math.min(Math.max(pixel[k]!, 0), most));
    return (Math.max(...at) - Math.min(...at)) / Math.max(most, 1);
  };
  return within(0, width) * within(1, height);
}

interface SheetProps {
  project: Project;
  finish: Finish;
  chart: Chart;
  path: (points: Vector3[]) => string;
  pixel: (p: Vector3) => Pair;
  view: Pair;
  drag: (make: (scene: Scene, start: Pair) => Motion) => (event: ReactPointerEvent) => void;
}

/** The outline of one repeat where it lies: drag it to shift, an edge to size, the far corner to turn. */
function Sheet({ project, finish, chart, path, pixel, view, drag }: SheetProps) {
  const material = project.materials[finish.material];
  if (!material) return null;
  const [w, h] = material.repeat_mm;
  const raw = (u: number, v: number) => rawOf(finish, [u * w, v * h]);
  const edge = (a: Pair, b: Pair) => sheetLine(chart, raw(...a), raw(...b));
  const edges = [edge([0, 0], [1, 0]), edge([1, 0], [1, 1]), edge([1, 1], [0, 1]), edge([0, 1], [0, 0])];
  const middleOf = (points: Vector3[]) =>
    pixel(points.length > 2 ? points[points.length >> 1]! : points[0]!.clone().lerp(points[1]!, 0.5));
  const outline = path(edges.flat());
  if (!outline) return null;
  const covers = shareOfView(edges.flat().map(pixel), view) > TINTED;
  return (
    <g>
      <path
        d={`${outline}Z`}
        className={`pointer-events-auto cursor-move ${covers ? "fill-transparent" : "fill-hand/10 hover:fill-hand/20"}`}
        role="img"
        data-testid="sheet"
        aria-label="One repeat: drag to shift the sheet"
        onPointerDown={drag((s, start) => shiftSheet(s, chartGround(s, chart), start))}
      />
      {edges.map((points, k) => (
        <Stroke key={k} d={path(points)} look="sheet" />
      ))}
      <Grip
        shape="size"
        at={middleOf(edges[1]!)}
        label="Size the repeat along"
        testid="sheet-width"
        onDown={drag((s) => sizeSheet(s, chartGround(s, chart), 0))}
      />
      <Grip
        shape="size"
        at={middleOf(edges[2]!)}
        label="Size the repeat up"
        testid="sheet-height"
        onDown={drag((s) => sizeSheet(s, chartGround(s, chart), 1))}
      />
      <Grip
        shape="turn"
        at={pixel(edges[1]!.at(-1)!)}
        label="Turn the sheet"
        testid="sheet-turn"
        onDown={drag((s) => turnSheet(s, chartGround(s, chart), [w, h]))}
      />
    </g>
  );
}
