import { useEffect } from "react";

import { sendJson } from "../../../api/client";
import type { Project, UnseenFaces, UnseenRequest } from "../../../api/wire.gen";
import { eyeSent, useEye } from "../../../model/eye";
import { put } from "../../../state";
import { useLook } from "../../../state/look";
import { usePick } from "../../../state/pick";

/** The eye has to rest this many ms before it is asked what it sees. */
const REST = 250;

/** Keeps in step how much of the pick does not show from where the eye stands. */
export function useUnseen(project: Project) {
  const rule = usePick((s) => s.pick.rule);
  const picked = usePick((s) => s.pick.faces > 0);
  const hidden = usePick((s) => s.hidden);
  const clip = useLook((s) => s.clip);
  const turning = useLook((s) => s.turning);

  useEffect(() => {
    if (!picked || turning) return;
    let waiting = 0;
    let asked = 0;
    let left = false;
    const ask = async () => {
      const mine = ++asked;
      const eye = useEye.getState();
      if (!eye.camera) return;
      const asking: UnseenRequest = { pick: rule, eye: eyeSent(eye) };
      const told = await sendJson<UnseenFaces>("POST", `/projects/${project.id}/unseen`, asking).catch(() => null);
      // A later question has a later answer.
      if (!left && mine === asked && told) {
        put({ unseen: { faces: told.faces, areaM2: told.area_m2 } });
      }
    };
    const soon = () => {
      window.clearTimeout(waiting);
      asked++;
      put({ unseen: null });
      waiting = window.setTimeout(() => void ask(), REST);
    };
    soon();
    const stop = useEye.subscribe((now, before) => {
      const moved = !now.matrix.equals(before.matrix) || now.width !== before.width || now.height !== before.height;
      if (moved) soon();
    });
    return () => {
      left = true;
      stop();
      window.clearTimeout(waiting);
    };
  }, [project.id, project.model.mesh, rule, picked, hidden, clip, turning]);
}
