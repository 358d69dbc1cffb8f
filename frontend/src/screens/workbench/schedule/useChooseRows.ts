import { useCallback, useEffect, useRef, type MouseEvent } from "react";

import type { Finish } from "../../../api/wire.gen";
import { put } from "../../../state";
import { useDesk } from "../../../state/desk";

/** Chooses rows by the pointer: one, one more with Ctrl, or as far as here with Shift. The same from state to state. */
export function useChooseRows(finishes: Finish[]) {
  const last = useRef<string | null>(null);
  const shown = useRef(finishes);
  useEffect(() => {
    shown.current = finishes;
  }, [finishes]);
  return useCallback((key: string, event: Pick<MouseEvent, "shiftKey" | "ctrlKey" | "metaKey">) => {
    const keys = shown.current.map((f) => f.key);
    const chosen = useDesk.getState().rows;
    if (event.shiftKey && last.current) {
      const [a, b] = [keys.indexOf(last.current), keys.indexOf(key)].sort((x, y) => x - y);
      put({ rows: keys.slice(a, (b ?? 0) + 1) });
    } else if (event.ctrlKey || event.metaKey) {
      put({ rows: chosen.includes(key) ? chosen.filter((k) => k !== key) : [...chosen, key] });
    } else {
      // A row that is chosen alone puts its material in hand, to be laid on elsewhere.
      put({ rows: [key], material: shown.current.find((f) => f.key === key)!.material });
    }
    last.current = key;
  }, []);
}
