import { useEdits } from "../api/project";
import type { Frame, Triple } from "../api/wire.gen";
import type { Drawn } from "./drawn";
import { limitFlow, limitsOf, moveCorner, moveStart } from "./corners";
import { Grip } from "./marks";

interface Props extends Drawn {
  projectId: number;
  frame: Frame;
}

/** The borders of a flow to click, its corners and its start to drag, and how much of the sheet lies between. */
export function FlowGrips(props: Props) {
  const { stored, finish, frame, eye, viewOrigin, pixel, begin } = props;
  if (stored.projection.kind !== "flow" || finish.projection.kind !== "flow") return null;
  const flow = stored.projection;
  // Those under the hand, or as the server found them.
  const moved = finish.projection !== stored.projection ? finish.projection : null;
  const round = frame.form === "ring" || frame.form === "tube";
  return (
    <>
      {frame.form === "strip" && <Borders {...props} />}
      {frame.size_mm &&
        flow.hold === "size" &&
        limitsOf(frame).map((limit) => {
          const { at, before } = pixel(limit.to);
          return before ? (
            <Grip
              key={limit.way}
              shape="size"
              at={at}
              label={limit.way === 0 ? "How much of the sheet lies along" : "How much of the sheet lies across"}
              testid={limit.way === 0 ? "limit-along" : "limit-across"}
              onDown={(event) => begin(stored, limitFlow(eye, flow, frame, limit, viewOrigin), event)}
            />
          ) : null;
        })}
      {frame.size_mm && <Arrow points={frame.lines[0]?.points ?? []} pixel={pixel} />}
      {round && (
        <Grip
          shape="origin"
          at={pixel(moved?.start ?? frame.corners[0]!).at}
          label="Where the sheet begins"
          testid="flow-start"
          onDown={(event) => begin(stored, moveStart(eye, flow, frame, viewOrigin), event)}
        />
      )}
      {frame.form === "strip" &&
        (moved?.corners ?? frame.corners).map((corner, k) => {
          const { at, before } = pixel(corner);
          return before ? (
            <Grip
              key={k}
              shape={k === 0 ? "origin" : "move"}
              at={at}
              label={k === 0 ? "Where the sheet begins" : `Corner ${k + 1} of the flow`}
              testid={`corner-${k}`}
              onDown={(event) => begin(stored, moveCorner(eye, flow, frame, k, viewOrigin), event)}
            />
          ) : null;
        })}
    </>
  );
}

/** The four borders, each of which the sheet can begin at. */
function Borders({ projectId, stored, frame, path }: Props) {
  const { run } = useEdits(projectId);
  const begunBy = (border: number) => {
    if (stored.projection.kind !== "flow") return;
    const options = { kind: "flow" as const, shift: (stored.projection.shift + border) % 4 };
    run({ kind: "set_options", finishes: [stored.key], options });
  };
  return frame.lines.map(({ name, points }, border) => (
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
      <title>{border === 0 ? "The sheet begins at this border" : "Click: the sheet begins at this border"}</title>
    </path>
  ));
}

/** Which way the sheet runs along its first border. */
function Arrow({ points, pixel }: { points: Triple[]; pixel: Drawn["pixel"] }) {
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
