import { useMemo } from "react";

import { useEdits } from "../../../../api/project";
import type { Coat, Finish, Project } from "../../../../api/wire.gen";
import { put } from "../../../../state";

/** How the coats of a finish are changed. */
export interface Coats {
  /** Puts these in the place of all coats; fails with the server's sentence. */
  set: (coats: Coat[]) => Promise<unknown>;
  /** Changes some of what a coat states. */
  change: (row: number, of: Partial<Coat>) => Promise<unknown>;
  /** Shows a coat so while something is under the hand. */
  live: (row: number, of: Partial<Coat>) => void;
}

export function useCoats(project: Project, finish: Finish): Coats {
  const { edit } = useEdits(project.id);
  return useMemo(() => {
    const set = (coats: Coat[]) => edit({ kind: "set_coats", finishes: [finish.key], coats });
    const changed = (row: number, of: Partial<Coat>) =>
      finish.coats.map((coat, at) => (at === row ? { ...coat, ...of } : coat));
    return {
      set: (coats) => set(coats).finally(() => put({ live: null })),
      change: (row, of) => set(changed(row, of)).finally(() => put({ live: null })),
      live: (row, of) => put({ live: { finish: finish.key, coats: changed(row, of) } }),
    };
  }, [edit, finish]);
}
