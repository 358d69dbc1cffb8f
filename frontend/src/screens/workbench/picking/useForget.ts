import { useCallback } from "react";

import { useEdits } from "../../../api/project";
import { useNotices } from "../../../ui/notices";
import { attempt } from "../../../ui/attempt";

/** Forgets a view or a kept pick, and offers to take that back: undo is for what changes the result. */
export function useForget(projectId: number) {
  const { edit, run } = useEdits(projectId);
  const say = useNotices((s) => s.say);
  return useCallback(
    (what: "view" | "pick_set", kept: { key: string; name: string }) => {
      attempt(edit({ kind: "forget", what, key: kept.key }), () =>
        say(`${what === "view" ? "The view" : "The pick"} “${kept.name}” is forgotten`, {
          text: "Take it back",
          onAct: () => run({ kind: "take_back", what, key: kept.key }),
        }),
      );
    },
    [edit, run, say],
  );
}
