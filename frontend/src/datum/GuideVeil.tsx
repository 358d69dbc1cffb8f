import { Vector3 } from "three";

import type { Frame, Pair, Projection, Triple } from "../api/wire.gen";
import { mmAPixel } from "../model/eye";
import type { Drawn } from "./drawn";
import { Grip, LabelText, Stroke } from "./marks";
import { slide, type Motion, type Moved, type Scene } from "./motions";

type Drape = Extract<Projection, { kind: "drape" }>;

/** Pixels from the middle of the guide to its grips, and the least at which one is offered. */
const ARM = 74;
const SHORTEST = 22;

interface Props extends Drawn {
  frame: Frame;
}

/** What faces are draped over, as a thin veil over the model, with grips to move it by. */
export function GuideVeil({ stored, finish, frame, eye, viewOrigin, pixel, path, begin }: Props) {
  if (stored.projection.kind !== "drape" || finish.projection.kind !== "drape" || !frame.corners[0]) return null;
  const kept = stored.projection;
  const moved = sum(finish.projection.shift_mm, kept.shift_mm, -1);
  const at = (place: Triple) => pixel(sum(place, moved));
  const middle = sum(frame.corners[0], moved);
  const origin = pixel(middle);
  const [x, y, z] = viewOrigin;
  const arm = ARM * mmAPixel(eye, new Vector3(middle[0] - x, middle[1] - y, middle[2] - z));
  return (
    <g data-testid="veil">
      <path d={veilOf(frame.veil, at)} className="fill-hand/15" />
      {frame.lines.map(({ points }, k) => (
        <Stroke key={k} d={path(points.map((place) => sum(place, moved)))} look="line" />
      ))}
      {origin.before &&
        ([0, 1, 2] as const).map((axis) => {
          const tip = pixel(sum(middle, AXES[axis], arm));
          if (!tip.before || Math.hypot(tip.at[0] - origin.at[0], tip.at[1] - origin.at[1]) < SHORTEST) return null;
          return (
            <g key={axis}>
              <Stroke d={`M${origin.at.join(" ")}L${tip.at.join(" ")}`} look="axis" />
              <Grip
                shape="move"
                at={tip.at}
                label={`Move the guide along ${"xyz"[axis]}`}
                testid={`guide-${"xyz"[axis]}`}
                onDown={(event) => {
                  const box = event.currentTarget.closest("svg")!.getBoundingClientRect();
                  const scene: Scene = {
                    eye,
                    finish: stored,
                    datum: { origin_mm: frame.corners[0]!, x_axis: [1, 0, 0], z_axis: [0, 0, 1] },
                    viewOrigin,
                    others: [],
                  };
                  begin(
                    stored,
                    moveGuide(scene, kept, axis, [event.clientX - box.left, event.clientY - box.top]),
                    event,
                  );
                }}
              />
              <LabelText at={[tip.at[0] + 13, tip.at[1] - 9]} text={"xyz"[axis]!} />
            </g>
          );
        })}
    </g>
  );
}

const AXES: [Triple, Triple, Triple] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

const sum = (a: Triple, b: Triple, times = 1): Triple => [
  a[0] + times * b[0],
  a[1] + times * b[1],
  a[2] + times * b[2],
];

/** Moves what is draped over along one axis of the model. */
function moveGuide(scene: Scene, drape: Drape, axis: 0 | 1 | 2, start: Pair): Motion {
  const was = drape.shift_mm[axis];
  const by = (mm: number): Moved => {
    const shift_mm: Triple = [...drape.shift_mm];
    shift_mm[axis] = was + mm;
    return { change: { projection: { ...drape, shift_mm } }, values: [was + mm] };
  };
  return {
    label: `Guide moved along ${"xyz"[axis]}`,
    unit: "mm",
    move: slide(scene, new Vector3(...AXES[axis]), start, by),
    typed: ([mm = 0]) => by(mm - was),
  };
}

/** The triangles as one path, all in one sense, so that those behind others do not darken it. */
function veilOf(corners: Triple[], at: (place: Triple) => { at: Pair; before: boolean }): string {
  let out = "";
  for (let k = 0; k + 2 < corners.length; k += 3) {
    const [a, b, c] = [at(corners[k]!), at(corners[k + 1]!), at(corners[k + 2]!)];
    if (!a.before || !b.before || !c.before) continue;
    const turn = (b.at[0] - a.at[0]) * (c.at[1] - a.at[1]) - (b.at[1] - a.at[1]) * (c.at[0] - a.at[0]);
    const [q, r] = turn < 0 ? [c, b] : [b, c];
    out += `M${short(a.at)}L${short(q.at)}L${short(r.at)}Z`;
  }
  return out;
}

const short = (at: Pair) => `${at[0].toFixed(1)} ${at[1].toFixed(1)}`;
