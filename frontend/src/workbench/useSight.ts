import { useCallback } from "react";

import { sendJson } from "../api/client";
import type { Picked, PickRequest } from "../api/types";
import { useNotices } from "../ui/notices";
import { inHand, NOTHING, useWorkbench } from "./store";

/** Puts faces out of sight and back. What is hidden is still covered, measured and handed over. */
export function useSight(projectId: number) {
  const tell = useNotices((s) => s.tell);
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
        set({ hidden: inHand(await sendJson<Picked>("POST", `/projects/${projectId}/pick`, asked)) });
      } catch (error) {
        tell(error instanceof Error ? error.message : String(error));
      }
    },
    [projectId, tell],
  );
}
