import { useMemo } from "react";

import { changing, type FinishChange } from "../../../api/edits";
import { useEdits } from "../../../api/project";

export interface Changing {
  /** Fails with the server's sentence, for fields that show it. */
  change: (what: FinishChange) => Promise<unknown>;
  /** Tells what goes wrong as a notice. */
  now: (what: FinishChange) => void;
}

/** Changes these finishes alike. */
export function useChanging(projectId: number, finishes: string[]): Changing {
  const { edit, run } = useEdits(projectId);
  const keys = finishes.join();
  return useMemo(() => {
    const list = keys.split(",");
    return { change: (what) => edit(changing(list, what)), now: (what) => run(changing(list, what)) };
  }, [edit, run, keys]);
}

/** The value that all finishes show alike, or “various”. */
export function sharedBy<T>(all: T[], show: (one: T) => string): string {
  const values = new Set(all.map(show));
  return values.size === 1 ? [...values][0]! : "various";
}
