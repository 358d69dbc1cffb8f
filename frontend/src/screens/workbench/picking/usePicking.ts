import { useCallback } from "react";

import { sendJson } from "../../../api/client";
import type { Picked, PickRequest } from "../../../api/wire.gen";
import { current, put } from "../../../state";
import { takePick } from "../../../state/pick";
import { tellError } from "../../../ui/attempt";

/** Picks wait for each other, so that quick clicks all count. */
let line: Promise<unknown> = Promise.resolve();

/** Asks the server for the pick after a change, and takes it in hand. */
export function usePicking(projectId: number) {
  return useCallback(
    (request: PickRequest) => {
      const ask = async () => {
        const base = current().pick.rule;
        const picked = await sendJson<Picked>("POST", `/projects/${projectId}/pick`, { base, ...request });
        takePick(picked);
        // A pick within the finish in hand leaves it there; any other is to be laid.
        const { rows } = current();
        const within = picked.lies.every(({ finish }) => finish !== null && rows.includes(finish));
        put({ inHand: within ? "finish" : "pick" });
      };
      line = line.then(ask).catch(tellError);
      return line;
    },
    [projectId],
  );
}
