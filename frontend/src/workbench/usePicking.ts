import { useCallback } from "react";

import { sendJson } from "../api/client";
import type { Picked, PickRequest } from "../api/types";
import { useNotices } from "../ui/notices";
import { useWorkbench } from "./store";

/** Picks wait for each other, so that quick clicks all count. */
let line: Promise<unknown> = Promise.resolve();

/** Asks the server for the pick after a change, and takes it in hand. */
export function usePicking(projectId: number) {
  const setPick = useWorkbench((s) => s.setPick);
  const tell = useNotices((s) => s.tell);
  return useCallback(
    (request: PickRequest) => {
      const ask = async () => {
        const base = useWorkbench.getState().pick.rule;
        setPick(await sendJson<Picked>("POST", `/projects/${projectId}/pick`, { base, ...request }));
      };
      line = line.then(ask).catch((error: unknown) => {
        tell(error instanceof Error ? error.message : String(error));
      });
      return line;
    },
    [projectId, setPick, tell],
  );
}
