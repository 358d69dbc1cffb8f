/** One drag of a grip: the hand, the numbers that it shows, and numbers typed in place of it. */

import { useCallback, useEffect, useRef, useState, type PointerEvent as ReactPointerEvent } from "react";

import { useEdits } from "../api/project";
import { quantity } from "../api/quantity";
import { changing, type FinishChange } from "../api/edits";
import type { Finish, Pair } from "../api/wire.gen";
import { mm, plain } from "../ui/numbers";
import { useEye } from "../model/eye";
import type { Change, Moved, Motion } from "./motions";
import { useHand } from "../state/hand";
import { put } from "../state";
import { sentenceOf, tellError } from "../ui/attempt";

export interface Readout {
  label: string;
  text: string;
  at: Pair;
  /** What it snapped to. */
  snapped?: string;
  /** What is typed in place of the hand's number. */
  typed: string | null;
  wrong?: string;
}

interface Drag {
  motion: Motion;
  finish: Finish;
  moved: Moved | null;
  pixel: Pair;
  typed: string | null;
  wrong?: string;
}

const isNear = (a: Pair, b: Pair) => Math.hypot(a[0] - b[0], a[1] - b[1]) < 3;

const TYPABLE = /^[\d.,+\-*/ ()'"a-zµ°×]$/i;

async function readTyped(text: string, motion: Motion): Promise<number[]> {
  const kind = motion.unit === "°" ? "angle" : "length";
  const parts = text.split(/[,×]/).filter((part) => part.trim());
  return Promise.all(parts.map((part) => quantity(part, kind)));
}

/** What a drag moved, as an edit. */
function editOf(change: Change): FinishChange {
  if (change.coats) return { kind: "set_coats", coats: change.coats };
  if (change.datum) return { kind: "set_datum", datum: change.datum };
  if (change.projection) return { kind: "set_projection", projection: change.projection };
  const { offset_mm, turn_deg, scale } = change;
  if (offset_mm && (turn_deg !== undefined || scale)) return { kind: "place_sheet", offset_mm, turn_deg, scale };
  if (change.turn_deg !== undefined) return { kind: "turn_to", turn_deg: change.turn_deg };
  if (change.scale) return { kind: "scale", scale: change.scale };
  return { kind: "offset", offset_mm: change.offset_mm ?? [null, null] };
}

export function useDrag(projectId: number) {
  const { edit } = useEdits(projectId);
  const drag = useRef<Drag | null>(null);
  const [readout, setReadout] = useState<Readout | null>(null);

  const show = useCallback(() => {
    const now = drag.current;
    if (!now) return setReadout(null);
    const { motion, moved, pixel, typed, wrong } = now;
    const numbers = moved?.values.map((v) => (motion.unit === "°" ? plain(v, 1) : mm(v))).join(" × ") ?? "";
    setReadout({ label: motion.label, text: `${numbers} ${motion.unit}`, at: pixel, snapped: moved?.at, typed, wrong });
  }, []);

  const apply = useCallback(
    (moved: Moved | null) => {
      const now = drag.current;
      if (!now || !moved) return;
      now.moved = moved;
      put({ live: { finish: now.finish.key, ...moved.change } });
      show();
    },
    [show],
  );

  const end = useCallback(
    async (keep: boolean) => {
      const now = drag.current;
      drag.current = null;
      setReadout(null);
      if (!now) return;
      if (!keep || !now.moved) return put({ live: null });
      const { change } = now.moved;
      put({ live: { finish: now.finish.key, ...change, settling: true } });
      try {
        const after = await edit(changing([now.finish.key], editOf(change)));
        const key = after.finishes.find((f) => f.key === now.finish.key)?.laying_key;
        // Nothing came of it, so no new corners will come either.
        if (key === now.finish.laying_key) put({ live: null });
      } catch (error) {
        useHand.setState((s) => ({ live: s.live && { ...s.live, settling: false } }));
        put({ live: null });
        tellError(error);
      }
    },
    [edit],
  );

  const begin = useCallback(
    (finish: Finish, motion: Motion, event: ReactPointerEvent) => {
      if (event.button !== 0) return;
      event.preventDefault();
      event.stopPropagation();
      const box = event.currentTarget.closest("svg")!.getBoundingClientRect();
      const at = (e: { clientX: number; clientY: number }): Pair => [e.clientX - box.left, e.clientY - box.top];
      drag.current = { motion, finish, moved: null, pixel: at(event), typed: null };
      show();

      let frame = 0;
      const start = at(event);
      const move = (e: PointerEvent) => {
        const now = drag.current;
        if (!now || (!now.moved && isNear(at(e), start))) return;
        now.pixel = at(e);
        if (now.typed !== null) return show();
        // Once a frame is enough; pointers tell more often.
        cancelAnimationFrame(frame);
        frame = requestAnimationFrame(() => {
          if (drag.current === now && now.typed === null)
            apply(now.motion.move(now.pixel, { shift: e.shiftKey, alt: e.altKey }));
        });
      };
      const take = async () => {
        const now = drag.current;
        if (!now || now.typed === null) return;
        const text = now.typed;
        try {
          const values = text.trim() ? await readTyped(text, now.motion) : [];
          if (drag.current !== now || now.typed !== text || values.length === 0) return;
          now.wrong = undefined;
          apply(now.motion.typed(values));
        } catch (error) {
          if (drag.current !== now || now.typed !== text) return;
          now.wrong = sentenceOf(error);
          show();
        }
      };
      const stop = async (keep: boolean) => {
        window.removeEventListener("pointermove", move);
        window.removeEventListener("pointerup", up);
        window.removeEventListener("keydown", key, true);
        cancelAnimationFrame(frame);
        if (keep && drag.current?.typed !== null) await take();
        await end(keep && !drag.current?.wrong);
      };
      const up = (e: PointerEvent) => {
        const now = drag.current;
        if (now && now.typed === null) {
          now.pixel = at(e);
          // Pressed and let go without moving: meant for the model beneath.
          if (isNear(now.pixel, start) && !now.moved) useEye.getState().click?.(now.pixel, e);
          else if (now.moved) apply(now.motion.move(now.pixel, { shift: e.shiftKey, alt: e.altKey }));
        }
        void stop(true);
      };
      const key = (e: KeyboardEvent) => {
        const now = drag.current;
        if (!now) return;
        if (e.key === "Escape") void stop(false);
        else if (e.key === "Enter") void stop(true);
        else if (e.key === "Backspace") now.typed = now.typed?.slice(0, -1) || null;
        else if (TYPABLE.test(e.key) && !e.ctrlKey && !e.metaKey) now.typed = (now.typed ?? "") + e.key;
        else return;
        e.preventDefault();
        e.stopPropagation();
        show();
        void take();
      };
      window.addEventListener("pointermove", move);
      window.addEventListener("pointerup", up);
      window.addEventListener("keydown", key, true);
    },
    [apply, end, show],
  );

  useEffect(() => () => void (drag.current = null), []);
  return { begin, readout };
}
