import { useCallback } from "react";

import { sendJson } from "../api/client";
import type { Picked, PickRequest } from "../api/types";
import { useNotices } from "../ui/notices";
import { counted } from "../ui/numbers";
import { inHand, NOTHING, useWorkbench } from "./store";

/** Puts faces out of sight and back. What is hidden is still covered, measured and handed over. */
export function useSight(projectId: number) {
  const tell = useNotices((s) => s.tell);
  const say = useNotices((s) => s.say);
  return useCallback(
    async (what: "hide" | "isolate" | "show all") => {
      const { pick, hidden, set } = useWorkbench.getState();
      if (what === "show all") return set({ hidden: NOTHING });
      if (pick.faces === 0) return;
      const asked: PickRequest =
        what === "hide"
          ? { base: hidden.rule, how: "add", pick: pick.rule }
          : { base: pick.rule, how: "invert" };
      try {
        const now = inHand(await sendJson<Picked>("POST", `/projects/${projectId}/pick`, asked));
        // What is out of sight is not left in hand: nothing shall be laid on faces that nobody sees.
        set(what === "hide" ? { hidden: now, pick: NOTHING, unseen: null } : { hidden: now });
        if (what === "hide") say(`${counted(now.faces, "face")} out of sight, and no longer picked; Shift+H brings them back`);
      } catch (error) {
        tell(error instanceof Error ? error.message : String(error));
      }
    },
    [projectId, tell, say],
  );
}
