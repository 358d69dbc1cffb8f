import { useCallback } from "react";

import { sendJson } from "../../../api/client";
import type { Pick, Picked, PickRequest } from "../../../api/wire.gen";
import { useNotices } from "../../../ui/notices";
import { counted } from "../../../ui/numbers";
import { current, put } from "../../../state";
import { NOTHING, inHand } from "../../../state/pick";
import { attempt } from "../../../ui/attempt";

export type Sight = "hide" | "show" | "isolate" | "show all";

function asking(what: Exclude<Sight, "show all">, rule: Pick, hidden: Pick): PickRequest {
  switch (what) {
    case "hide":
      return { base: hidden, how: "add", pick: rule };
    case "show":
      return { base: hidden, how: "remove", pick: rule };
    case "isolate":
      return { base: rule, how: "invert" };
    default:
      return what satisfies never;
  }
}

/** Puts faces out of sight and back. What is hidden is still covered, measured and handed over. */
export function useSight(projectId: number) {
  const say = useNotices((s) => s.say);
  return useCallback(
    (what: Sight, of?: Pick) => {
      const { pick, hidden } = current();
      if (what === "show all") return put({ hidden: NOTHING });
      const rule = of ?? pick.rule;
      if (!of && pick.faces === 0) return;
      attempt(async () => {
        const asked = asking(what, rule, hidden.rule);
        const now = inHand(await sendJson<Picked>("POST", `/projects/${projectId}/pick`, asked));
        // What is out of sight is not left in hand: nothing shall be laid on faces that nobody sees.
        put(what === "hide" && !of ? { hidden: now, pick: NOTHING, unseen: null } : { hidden: now });
        if (what === "hide" && !of)
          say(`${counted(now.faces, "face")} out of sight, and no longer picked; Shift+H brings them back`);
      });
    },
    [projectId, say],
  );
}
