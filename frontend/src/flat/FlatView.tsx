import { useCallback, useEffect, useMemo, useRef, type ReactNode } from "react";

import type { Finish, PickRequest, Project } from "../api/wire.gen";
import { wayOf, type FaceHit, type HeldKeys } from "../model/corners";
import { useModelArrays } from "../model/geometry";
import { current } from "../state";
import { useDesk } from "../state/desk";
import { usePick } from "../state/pick";
import { FlatCanvas } from "./FlatCanvas";
import { FlatLine, FlatTold } from "./FlatLine";
import { along, AT_REST, useFlatHand } from "./flatHand";
import { frame, pixelAt, useFlatEye } from "./flatEye";
import { boxOf, facesOf, pickedPieces, piecesIn, useFlat, type Flat, type FlatHit } from "./pieces";
import { useFlatPointer } from "./useFlatPointer";

interface Props {
  project: Project;
  /** A click on a face, as it is on the model. */
  onFace: (hit: FaceHit | null, held: HeldKeys) => void;
  pick: (request: PickRequest) => unknown;
  /** What stands over it: what the next click is for. */
  children?: ReactNode;
}

/** The sheet of the finish in hand, in mm, with the pieces that lie on it. */
export function FlatView(props: Props) {
  const { project } = props;
  const model = useModelArrays(project);
  const finish = useFinishInHand(project);
  const blends = finish?.projection.kind === "triplanar";
  const { data: flat } = useFlat(project, model.data, finish);
  return (
    <section
      aria-label="Flat view"
      data-testid="flat"
      className="relative flex h-full flex-col overflow-hidden bg-table"
    >
      {finish && flat && !blends ? (
        <Laid {...props} finish={finish} flat={flat} />
      ) : (
        <p className="m-auto max-w-72 p-4 text-center">
          {blends
            ? `${finish.name} blends three sheets over every face, so no one sheet shows it.`
            : finish?.faces
              ? "Laying the pieces out…"
              : finish
                ? `${finish.name} lies on nothing.`
                : "Choose a finish in the schedule, or click a face that has one: its sheet shows here."}
        </p>
      )}
    </section>
  );
}

/** The chosen row, or the finish that most of the pick has. */
function useFinishInHand(project: Project): Finish | null {
  const rows = useDesk((s) => s.rows);
  const lies = usePick((s) => s.pick.lies);
  const key = rows.length ? rows[0] : lies.find(({ finish }) => finish)?.finish;
  return project.finishes.find((finish) => finish.key === key) ?? null;
}

function Laid({ project, onFace, pick, finish, flat, children }: Props & { finish: Finish; flat: Flat }) {
  const area = useRef<HTMLDivElement>(null);
  const mask = usePick((s) => s.pick.mask);
  const picked = useMemo(() => pickedPieces(flat, mask), [flat, mask]);
  const width = useFlatEye((s) => s.width);
  useEffect(() => {
    // Once it is known how wide the view is; a finish that was framed is left as it was looked at.
    const box = boxOf(flat.pieces);
    if (box && width > 1 && useFlatEye.getState().framed !== finish.key) frame(box, finish.key);
  }, [flat, finish.key, width]);
  useEffect(() => {
    // What was moved by hand has come to lie there.
    if (useFlatHand.getState().key !== flat.key) useFlatHand.setState(AT_REST);
  }, [flat.key]);

  const onPiece = useCallback(
    (hit: FlatHit | null, held: HeldKeys) => {
      const { level, how, task } = current();
      // A click on one face, and one that was asked for, mean here what they mean on the model.
      if (task || level === "face" || !hit) {
        return onFace(hit && { face: flat.faces[hit.row]!, point: hit.point }, held);
      }
      void pick({ how: wayOf(held, how), pick: { faces: facesOf(flat, flat.piece[hit.row]!) } });
    },
    [flat, onFace, pick],
  );
  const turn = useFlatPointer({ area, project, finish, flat, onPiece });
  return (
    <>
      <FlatLine project={project} finish={finish} flat={flat} picked={picked} />
      <div className="relative min-h-0 flex-1">
        <div ref={area} className="absolute inset-0 touch-none" data-testid="flat-sheet">
          <FlatCanvas project={project} finish={finish} flat={flat} />
        </div>
        <Grips flat={flat} picked={picked} onTurn={turn} />
        <FlatTold finish={finish} flat={flat} picked={picked} pick={pick} />
        <Readout />
        {children}
      </div>
    </>
  );
}

function Readout() {
  const readout = useFlatHand((s) => s.readout);
  if (!readout) return null;
  return (
    <output className="figure pointer-events-none absolute top-2 left-1/2 -translate-x-1/2 border border-hand bg-paper px-2 py-0.5">
      {readout}
    </output>
  );
}

/** A grip over the pieces in hand: dragged round, it turns them. */
function Grips({
  flat,
  picked,
  onTurn,
}: {
  flat: Flat;
  picked: ReadonlySet<number>;
  onTurn: (event: React.PointerEvent<Element>) => void;
}) {
  const eye = useFlatEye();
  const hand = useFlatHand();
  const box = useMemo(() => boxOf(piecesIn(flat, picked)), [picked, flat]);
  if (!box) return null;
  const goes = hand.key === flat.key;
  const at = (s: number, t: number) => pixelAt(eye, goes ? along(hand, s, t) : [s, t]);
  const [x, y] = at((box[0] + box[2]) / 2, box[3]);
  const [cx, cy] = at((box[0] + box[2]) / 2, (box[1] + box[3]) / 2);
  const size = Math.max(Math.hypot(x - cx, y - cy), 1);
  const [gx, gy] = [x + ((x - cx) / size) * 26, y + ((y - cy) / size) * 26];
  return (
    <svg className="pointer-events-none absolute inset-0 h-full w-full overflow-hidden" aria-hidden>
      <path d={`M${x} ${y}L${gx} ${gy}`} stroke="var(--color-hand)" strokeWidth={1.5} fill="none" />
      <circle
        cx={gx}
        cy={gy}
        r={6.5}
        data-testid="turn-grip"
        className="pointer-events-auto cursor-grab fill-sheet stroke-hand"
        strokeWidth={2}
        onPointerDown={onTurn}
      >
        <title>Drag round to turn the pieces in hand; Shift: by any angle</title>
      </circle>
    </svg>
  );
}
