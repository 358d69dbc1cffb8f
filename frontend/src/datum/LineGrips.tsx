import type { PointerEvent as ReactPointerEvent } from "react";
import { Vector3 } from "three";

import type { Triple } from "../api/wire.gen";
import { lookingFrom, type Eye } from "../model/eye";
import { linedOf } from "../model/lined";
import { mm } from "../ui/numbers";
import type { Drawn } from "./drawn";
import { Grip, LabelText, Stroke } from "./marks";
import { bendStroke, gripsOf, stretchReach } from "./strokes";

/** More lines than this are drawn without grips: they would hide the surface. */
const MOST = 12;

/** The strokes that a sheet follows, with grips to bend them by, and one for how far they reach. */
export function LineGrips({ stored, finish, eye, viewOrigin, pixel, path, begin }: Drawn) {
  const kept = linedOf(stored.projection);
  const laid = linedOf(finish.projection);
  if (!kept || !laid || laid.lines.length === 0) return null;
  const few = laid.lines.length <= MOST;
  const last = laid.lines.at(-1)!.points;
  return (
    <g data-testid="lines">
      {laid.lines.map(({ points }, k) => (
        <Stroke key={k} d={path(points)} look="grain" />
      ))}
      {few && (
        <ReachGrip
          middle={last[last.length >> 1]!}
          along={[last[(last.length >> 1) - 1]!, last[Math.min((last.length >> 1) + 1, last.length - 1)]!]}
          distance={laid.reach * Math.sqrt(stored.area_m2 * 1e6)}
          eye={eye}
          pixel={pixel}
          onDown={(event) => {
            const from = kept.lines.at(-1)!.points;
            const motion = stretchReach(eye, kept, from[from.length >> 1]!, stored.area_m2 * 1e6, viewOrigin);
            begin(stored, motion, event);
          }}
        />
      )}
      {few &&
        laid.lines.flatMap(({ points }, line) =>
          gripsOf(points).map((row, k) => {
            const { at, before } = pixel(points[row]!);
            return before ? (
              <Grip
                key={`${line} ${k}`}
                shape="move"
                at={at}
                label={`Bend line ${line + 1}`}
                testid={`line-${line}-${k}`}
                onDown={(event) => begin(stored, bendStroke(eye, kept, line, row, viewOrigin), event)}
              />
            ) : null;
          }),
        )}
    </g>
  );
}

interface ReachProps {
  middle: Triple;
  /** The points of the line before and after its middle. */
  along: [Triple, Triple];
  /** mm. */
  distance: number;
  eye: Eye;
  pixel: Drawn["pixel"];
  onDown: (event: ReactPointerEvent) => void;
}

/** Where the reach of a line ends, square to it as the eye sees it. */
function ReachGrip({ middle, along, distance, eye, pixel, onDown }: ReachProps) {
  const from = pixel(middle);
  if (!from.before) return null;
  const ahead = new Vector3(...along[1]).sub(new Vector3(...along[0]));
  const aside = new Vector3()
    .crossVectors(new Vector3(...lookingFrom(eye).towards), ahead)
    .normalize()
    .multiplyScalar(distance);
  const place = new Vector3(...middle).add(aside);
  const to = pixel([place.x, place.y, place.z]);
  if (!to.before) return null;
  return (
    <>
      <path
        d={`M${from.at.join(" ")}L${to.at.join(" ")}`}
        className="stroke-ink/60 [stroke-dasharray:2_4]"
        strokeWidth={1.2}
      />
      <Grip shape="size" at={to.at} label="How far the lines reach" testid="line-reach" onDown={onDown} />
      <LabelText at={[to.at[0], to.at[1] - 16]} text={`reach ${mm(distance)}`} />
    </>
  );
}
