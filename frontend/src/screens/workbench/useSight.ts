import { useCallback } from "react";

import { sendJson } from "../../api/client";
import type { Picked, PickRequest } from "../../api/wire.gen";
import { useNotices } from "../../ui/notices";
import { counted } from "../../ui/numbers";
import { current, put } from "../../state";
import { NOTHING, inHand } from "../../state/pick";
import { attempt } from "../../ui/attempt";

/** Puts faces out of sight and back. What is hidden is still covered, measured and handed over. */
export function useSight(projectId: number) {
  const say = useNotices((s) => s.say);
  return useCallback(
    (what: "hide" | "isolate" | "show all") => {
      const { pick, hidden } = current();
      if (what === "show all") return put({ hidden: NOTHING });
      if (pick.faces === 0) return;
      const asked: PickRequest =
        what === "hide" ? { base: hidden.rule, how: "add", pick: pick.rule } : { base: pick.rule, how: "invert" };
      attempt(async () => {
        const now = inHand(await sendJson<Picked>("POST", `/projects/${projectId}/pick`, asked));
        // What is out of sight is not left in hand: nothing shall be laid on faces that nobody sees.
        put(what === "hide" ? { hidden: now, pick: NOTHING, unseen: null } : { hidden: now });
        if (what === "hide")
          say(`${counted(now.faces, "face")} out of sight, and no longer picked; Shift+H brings them back`);
      });
    },
    [projectId, say],
  );
}
