import { useMemo } from "react";
import { Box3, Plane, Vector3 } from "three";

import type { Coat, Finish, Mask, Pair, Project, Triple } from "../api/wire.gen";
import { gripsOf, type MaskGrip } from "../coats/grips";
import { leavesOf } from "../coats/laid";
import { lookingFrom, mmAPixel, modelAt, pixelOf, rayAt, useEye, type Eye } from "../model/eye";
import { useDesk } from "../state/desk";
import { liveOf, useHand, withLive } from "../state/hand";
import { useLook } from "../state/look";
import { DragReadout } from "./DragReadout";
import { Grip, LabelText, Stroke } from "./marks";
import { slide, type Motion, type Moved } from "./motions";
import { useDrag } from "./useDrag";

/** Length of the arrow of a direction, on the screen. */
const ARROW = 110;

/** Where the open coat lies, to be taken hold of: both ends of its fades, of its bands, of its distances. */
export function MaskOverlay({ project }: { project: Project }) {
  const coat = useDesk((s) => s.coat);
  const rows = useDesk((s) => s.rows);
  const shown = useLook((s) => s.datumShown);
  const trials = useDesk((s) => s.trials);
  const live = useHand(liveOf(coat?.finish));
  const eye = useEye();
  const stored = project.finishes.find((f) => f.key === coat?.finish);
  if (!coat || !stored?.coats[coat.row] || rows.join() !== stored.key || !shown || trials || !eye.camera) return null;
  return <Masks project={project} stored={stored} finish={withLive(stored, live)} row={coat.row} eye={eye} />;
}

interface Props {
  project: Project;
  stored: Finish;
  finish: Finish;
  row: number;
  eye: Eye;
}

/** The finish with another mask for one of its coats. */
function withMask(finish: Finish, row: number, where: Mask): Coat[] {
  return finish.coats.map((coat, at) => (at === row ? { ...coat, where } : coat));
}

function Masks({ project, stored, finish, row, eye }: Props) {
  const { begin, readout } = useDrag(project.id);
  const origin = project.model.view_origin_mm;
  const near = (p: Triple) => new Vector3(...p).sub(new Vector3(...origin));
  const middle = useMiddle(eye, stored, origin);
  const reach = ARROW * mmAPixel(eye, near(middle));
  const { right } = lookingFrom(eye);
  const kept = leavesOf(stored.coats[row]!.where);
  const drawn = leavesOf(finish.coats[row]?.where ?? null).map(({ mask }) => gripsOf(mask, middle, right, reach));
  const pixel = (place: Triple) => pixelOf(eye, near(place));
  const path = (points: Triple[]) => {
    const at = points.map(pixel);
    return at.every((p) => p.before) ? `M${at.map((p) => p.at.map((v) => v.toFixed(1)).join(" ")).join("L")}` : "";
  };
  return (
    <>
      <svg
        aria-label="Where the coat lies"
        data-testid="mask-grips"
        className="pointer-events-none absolute inset-0 h-full w-full overflow-hidden"
      >
        {drawn.map((mask, leaf) =>
          mask?.lines.map((points, k) => <Stroke key={`${leaf} ${k}`} d={path(points)} look="axis" />),
        )}
        {drawn.flatMap((mask, leaf) =>
          (mask?.grips ?? []).map((grip, k) => {
            const { at, before } = pixel(grip.at);
            const own = kept[leaf] && gripsOf(kept[leaf].mask, middle, right, reach)?.grips[k];
            if (!before || !own) return null;
            const put = (next: Mask) => withMask(stored, row, kept[leaf]!.put(next));
            return (
              <g key={`${leaf} ${k}`}>
                <Grip
                  shape={grip.turned ? "turn" : grip.place ? "origin" : "size"}
                  at={at}
                  label={`${grip.label}: drag, or type while dragging${grip.place ? "; with Shift over the surface" : ""}`}
                  testid={`mask-grip-${leaf}-${k}`}
                  onDown={(event) => begin(stored, motionOf(own, eye, stored, origin, [at[0], at[1]], put), event)}
                />
                <LabelText at={[at[0], at[1] + (k ? -18 : 20)]} text={grip.text(grip.value)} />
              </g>
            );
          }),
        )}
      </svg>
      {readout && <DragReadout readout={readout} />}
    </>
  );
}

/** The middle of the faces that a finish is laid on, from which a band's line is drawn; the eye may move meanwhile. */
function useMiddle({ model, laidOf }: Eye, { key }: Finish, origin: Triple): Triple {
  return useMemo(() => {
    const faces = laidOf?.(key)?.faces;
    if (!model || !faces?.length) return origin;
    const box = new Box3();
    const at = new Vector3();
    for (const face of faces) {
      for (let corner = model.faceStart[face]!; corner < model.faceStart[face + 1]!; corner++) {
        box.expandByPoint(at.fromArray(model.position.array, corner * 3));
      }
    }
    return box
      .getCenter(at)
      .add(new Vector3(...origin))
      .toArray();
  }, [model, laidOf, key, origin]);
}

/** A direction that is turned by its tip, in the plane that faces the viewer. */
function turning(
  { label, at, turned }: MaskGrip & { turned: NonNullable<MaskGrip["turned"]> },
  eye: Eye,
  viewOrigin: Triple,
  put: (mask: Mask) => Coat[],
): Motion {
  const origin = new Vector3(...viewOrigin);
  const tip = new Vector3(...at).sub(origin);
  const plane = new Plane().setFromNormalAndCoplanarPoint(new Vector3(...lookingFrom(eye).towards), tip);
  const about = new Vector3(...turned.about).sub(origin);
  const to = (way: Triple, snapped: boolean): Moved => {
    const { mask, direction, axis } = turned.to(way, snapped);
    return { change: { coats: put(mask) }, values: direction, at: axis };
  };
  return {
    label,
    unit: "",
    move: (pixel, { alt }) => {
      const hit = rayAt(eye, pixel).intersectPlane(plane, new Vector3());
      return hit && to(hit.sub(about).toArray(), !alt);
    },
    typed: ([x = 0, y = 0, z = 1]) => to([x, y, z], false),
  };
}

/** A grip that is slid along its line, or with Shift put anywhere on the surface. */
function motionOf(
  grip: MaskGrip,
  eye: Eye,
  finish: Finish,
  viewOrigin: Triple,
  start: Pair,
  put: (mask: Mask) => Coat[],
): Motion {
  const { turned } = grip;
  if (turned) return turning({ ...grip, turned }, eye, viewOrigin, put);
  const datum = { origin_mm: grip.at, x_axis: [1, 0, 0] as Triple, z_axis: [0, 0, 1] as Triple };
  const to = (mm: number): Moved => ({ change: { coats: put(grip.put(mm)) }, values: [mm] });
  const by = (mm: number) => to(grip.value + grip.sign * mm);
  const sliding = slide({ eye, finish, datum, viewOrigin, others: [] }, grip.along, start, by);
  return {
    label: grip.label,
    unit: "mm",
    move: (pixel, held) => {
      const hit = held.shift && grip.place ? modelAt(eye, pixel) : null;
      if (!hit || !grip.place) return sliding(pixel, held);
      const place = hit.point.add(new Vector3(...viewOrigin));
      const at = place.toArray().map((v) => Math.round(v * 1000) / 1000) as Triple;
      return { change: { coats: put(grip.place(at)) }, values: at, at: "the surface" };
    },
    typed: ([mm = 0]) => to(mm),
  };
}
