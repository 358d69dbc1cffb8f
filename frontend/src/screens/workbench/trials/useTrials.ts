import { useCallback } from "react";

import { askBytes } from "../../../api/client";
import { readPacket } from "../../../api/packet";
import { useEdits } from "../../../api/project";
import type { Finish, Project, Trial, TrialRequest, TrialsHeader } from "../../../api/wire.gen";
import { lookingFrom, useEye } from "../../../model/eye";
import { current, put } from "../../../state";
import { NOTHING } from "../../../state/pick";
import { attempt } from "../../../ui/attempt";

/** Lays the pick, or a finish, by every projection; and takes one of them. */
export function useTrials(project: Project) {
  const { edit } = useEdits(project.id);

  const start = useCallback(
    (finish: Finish | null, material: string) => {
      const { pick } = current();
      const eye = useEye.getState();
      const aim = eye.camera ? { towards: lookingFrom(eye).towards } : {};
      const called = `${project.id}-${Date.now()}`;
      const asked: TrialRequest = finish
        ? { finish: finish.key, aim, called }
        : { pick: pick.rule, material, aim, called };
      const stopping = new AbortController();
      current().trying?.stop();
      put({ trying: { called, stop: () => stopping.abort() } });
      attempt(
        async () => {
          const path = `/projects/${project.id}/trials`;
          const answer = await askBytes(path, asked, stopping.signal).catch((error: unknown) => {
            if (stopping.signal.aborted) return null;
            throw error;
          });
          if (!answer) return;
          const packet = readPacket<TrialsHeader>(answer);
          put({
            trials: {
              list: packet.header.trials,
              advice: packet.header.advice,
              faces: packet.ids("faces"),
              sheets: packet.header.trials.map((_, at) => packet.floats(`st_${at}`)),
              tones: packet.header.trials.map((_, at) => ({
                low: packet.floats(`low_${at}`),
                high: packet.floats(`high_${at}`),
                kind: packet.bytes(`kind_${at}`),
              })),
              shows: "finish",
              pictures: {},
              material,
              finish: finish?.key ?? null,
              pick: finish ? null : pick.rule,
            },
          });
        },
        undefined,
        () => current().trying?.called === called && put({ trying: null }),
      );
    },
    [project.id],
  );

  const take = useCallback(
    (trial: Trial) => {
      const { trials } = current();
      if (!trials) return;
      const { projection, datum } = trial;
      attempt(async () => {
        if (trials.finish) {
          await edit({ kind: "set_projection", finishes: [trials.finish], projection, datum });
        } else {
          const after = await edit({ kind: "lay", material: trials.material, pick: trials.pick!, projection, datum });
          put({ rows: [after.finishes.at(-1)!.key], pick: NOTHING });
        }
        put({ trials: null });
      });
    },
    [edit],
  );

  return { start, take };
}
