import { useCallback, useEffect, useRef, type RefObject } from "react";

import { useEdits } from "../api/project";
import type { Finish, Pair, Project } from "../api/wire.gen";
import { current, put } from "../state";
import type { HeldKeys } from "../model/corners";
import { usePick } from "../state/pick";
import { attempt } from "../ui/attempt";
import { plain } from "../ui/numbers";
import { AT_REST, useFlatHand, type FlatHand } from "./flatHand";
import { approach, pan, placeAt, useFlatEye } from "./flatEye";
import { boxOf, pickedPieces, piecesIn, type Flat, type FlatHit } from "./pieces";
import { cornersOf, jointsOf, ontoCorner, snapped } from "./snapping";

interface Props {
  area: RefObject<HTMLElement | null>;
  project: Project;
  finish: Finish;
  flat: Flat;
  onPiece: (hit: FlatHit | null, held: HeldKeys) => void;
}

/** What goes with the pointer. */
type Moves = "nothing" | "sheet" | "pieces" | "box";

const STILL = 4;
const SNAP_PX = 7;
/** Among more pieces than these nothing but the sheet draws a moved one. */
const MOST_SNAPPED = 400;
/** A turned piece comes to rest at these, unless Shift is held. */
const TURN_STEP = 5;

/** What the pointer does on the sheet: pans, picks pieces, and moves or turns those that are picked. */
export function useFlatPointer({ area, project, finish, flat, onPiece }: Props) {
  const { edit } = useEdits(project.id);
  const held = useRef<ReturnType<typeof boxOf>>(null);
  const now = useRef({ project, finish, flat, onPiece });
  useEffect(() => void (now.current = { project, finish, flat, onPiece }));

  const settle = useCallback(() => {
    const hand = useFlatHand.getState();
    useFlatHand.setState({ readout: null });
    const still = Math.hypot(...hand.shift) < 1e-6 && Math.abs(hand.turnDeg) < 1e-9;
    if (still || !hand.pieces.size) return useFlatHand.setState(AT_REST);
    const sent = edit({
      kind: "move_pieces",
      finish: now.current.finish.key,
      pick: usePick.getState().pick.rule,
      shift_mm: [hand.shift[0], hand.shift[1]],
      turn_by: hand.turnDeg,
      flipped: false,
    });
    // What could not be moved goes back; what was moved stays until its new place has come.
    sent.catch(() => useFlatHand.setState(AT_REST));
    attempt(sent);
  }, [edit]);

  const avoidBox = useCallback(() => {
    const { box } = useFlatHand.getState();
    useFlatHand.setState({ box: null, readout: null });
    const { finish: laid, flat: at } = now.current;
    const pick = pickedPieces(at, usePick.getState().pick.mask).size
      ? usePick.getState().pick.rule
      : { all: true as const };
    if (box) attempt(edit({ kind: "avoid", finish: laid.key, pick, box_mm: box }));
  }, [edit]);

  const takeUp = useCallback((): boolean => {
    const { flat: at } = now.current;
    const pieces = pickedPieces(at, usePick.getState().pick.mask);
    const box = boxOf(piecesIn(at, pieces));
    held.current = box;
    if (!box) return false;
    useFlatHand.setState({ ...AT_REST, pieces, about: [(box[0] + box[2]) / 2, (box[1] + box[3]) / 2], key: at.key });
    return true;
  }, []);

  const turn = useCallback(
    (event: React.PointerEvent<Element>) => {
      event.stopPropagation();
      const target = event.currentTarget;
      const box = area.current?.getBoundingClientRect();
      if (!box || !takeUp()) return;
      target.setPointerCapture(event.pointerId);
      const { about } = useFlatHand.getState();
      const angleAt = (x: number, y: number) => {
        const [s, t] = placeAt(useFlatEye.getState(), [x - box.left, y - box.top]);
        return (Math.atan2(t - about[1], s - about[0]) * 180) / Math.PI;
      };
      const first = angleAt(event.clientX, event.clientY);
      const move = (e: PointerEvent) => {
        const by = ((angleAt(e.clientX, e.clientY) - first + 540) % 360) - 180;
        const turnDeg = e.shiftKey ? by : Math.round(by / TURN_STEP) * TURN_STEP;
        useFlatHand.setState({ turnDeg, readout: `${plain(turnDeg, 1)}°` });
      };
      const up = () => {
        target.removeEventListener("pointermove", move as EventListener);
        settle();
      };
      target.addEventListener("pointermove", move as EventListener);
      target.addEventListener("pointerup", up, { once: true });
    },
    [area, takeUp, settle],
  );

  useEffect(() => {
    const canvas = area.current;
    if (!canvas) return;
    const pixelOf = (event: MouseEvent): Pair => {
      const box = canvas.getBoundingClientRect();
      return [event.clientX - box.left, event.clientY - box.top];
    };
    const hitAt = (event: MouseEvent) => now.current.flat.hitAt(placeAt(useFlatEye.getState(), pixelOf(event)));
    let press: { at: Pair; last: Pair; hit: FlatHit | null; moves: Moves } | null = null;

    const down = (event: PointerEvent) => {
      const at = pixelOf(event);
      canvas.setPointerCapture(event.pointerId);
      press = { at, last: at, hit: event.button === 0 ? hitAt(event) : null, moves: "nothing" };
    };
    const move = (event: PointerEvent) => {
      const at = pixelOf(event);
      if (!press) return tellHovered(hitAt(event)?.row ?? null);
      if (press.moves === "nothing") {
        if (Math.hypot(at[0] - press.at[0], at[1] - press.at[1]) <= STILL) return;
        const { flat: shown } = now.current;
        const { hit } = press;
        const drawn = current().task?.what === "avoid" && event.buttons === 1;
        const on = hit !== null && pickedPieces(shown, usePick.getState().pick.mask).has(shown.piece[hit.row]!);
        press.moves = drawn ? "box" : on && takeUp() ? "pieces" : "sheet";
      }
      if (press.moves === "sheet") pan([at[0] - press.last[0], at[1] - press.last[1]]);
      else if (press.moves === "box") drawBox(press.at, at);
      else shiftBy(press.at, at, event);
      press.last = at;
    };
    const drawBox = (from: Pair, to: Pair) => {
      const eye = useFlatEye.getState();
      const [[a, b], [c, d]] = [placeAt(eye, from), placeAt(eye, to)];
      const box: FlatHand["box"] = [Math.min(a, c), Math.min(b, d), Math.max(a, c), Math.max(b, d)];
      useFlatHand.setState({ box, readout: `${plain(box[2] - box[0], 1)} × ${plain(box[3] - box[1], 1)} mm` });
    };
    const shiftBy = (from: Pair, to: Pair, event: PointerEvent) => {
      const { mmPerPixel } = useFlatEye.getState();
      const { project: of, flat: shown, finish: laid } = now.current;
      let shift: Pair = [(to[0] - from[0]) * mmPerPixel, -(to[1] - from[1]) * mmPerPixel];
      const own = held.current;
      const { pieces } = useFlatHand.getState();
      if (own && !event.shiftKey) {
        const others = shown.pieces.length <= MOST_SNAPPED ? shown.pieces.filter((_, piece) => !pieces.has(piece)) : [];
        const met = ontoCorner(cornersOf(shown), pieces, shift, SNAP_PX * mmPerPixel);
        shift = met ?? snapped(shift, own, jointsOf(of, laid), others, SNAP_PX * mmPerPixel);
      }
      useFlatHand.setState({ shift, readout: `${plain(shift[0], 1)}, ${plain(shift[1], 1)} mm` });
    };
    const up = (event: PointerEvent) => {
      const was = press;
      press = null;
      if (!was) return;
      if (was.moves === "pieces") settle();
      else if (was.moves === "box") avoidBox();
      else if (was.moves === "nothing" && event.button === 0) now.current.onPiece(was.hit, event);
    };
    const tellHovered = (row: number | null) => {
      const hovered = row === null ? null : now.current.flat.faces[row]!;
      if (current().hovered !== hovered) put({ hovered });
    };
    const leave = () => tellHovered(null);
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      approach(Math.exp(-event.deltaY * 0.0015), pixelOf(event));
    };
    canvas.addEventListener("pointerdown", down);
    canvas.addEventListener("pointermove", move);
    canvas.addEventListener("pointerup", up);
    canvas.addEventListener("pointerleave", leave);
    canvas.addEventListener("wheel", wheel, { passive: false });
    return () => {
      leave();
      canvas.removeEventListener("pointerdown", down);
      canvas.removeEventListener("pointermove", move);
      canvas.removeEventListener("pointerup", up);
      canvas.removeEventListener("pointerleave", leave);
      canvas.removeEventListener("wheel", wheel);
    };
  }, [area, settle, takeUp, avoidBox]);

  return turn;
}
