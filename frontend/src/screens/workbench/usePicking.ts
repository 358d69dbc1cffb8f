import { useCallback } from "react";

import { sendJson } from "../../api/client";
import type { Picked, PickRequest } from "../../api/wire.gen";
import { current } from "../../state";
import { takePick } from "../../state/pick";
import { tellError } from "../../ui/attempt";

/** Picks wait for each other, so that quick clicks all count. */
let line: Promise<unknown> = Promise.resolve();

/** Asks the server for the pick after a change, and takes it in hand. */
export function usePicking(projectId: number) {
  return useCallback(
    (request: PickRequest) => {
      const ask = async () => {
        const base = current().pick.rule;
        takePick(await sendJson<Picked>("POST", `/projects/${projectId}/pick`, { base, ...request }));
      };
      line = line.then(ask).catch(tellError);
      return line;
    },
    [projectId],
  );
}
