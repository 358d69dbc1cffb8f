import { useEffect } from "react";

import { sendJson } from "../api/client";
import type { Project } from "../api/types";
import { eyeSent, useEye } from "../view/eye";
import { useWorkbench } from "./store";

/** The eye has to rest this many ms before it is asked what it sees. */
const REST = 250;

/** Keeps in step how much of the pick does not show from where the eye stands. */
export function useUnseen(project: Project) {
  const rule = useWorkbench((s) => s.pick.rule);
  const picked = useWorkbench((s) => s.pick.faces > 0);
  const hidden = useWorkbench((s) => s.hidden);
  const clip = useWorkbench((s) => s.clip);
  const turning = useWorkbench((s) => s.turning);

  useEffect(() => {
    if (!picked || turning) return;
    let waiting = 0;
    let asked = 0;
    let left = false;
    const ask = async () => {
      const mine = ++asked;
      const eye = useEye.getState();
      if (!eye.camera) return;
      const told = await sendJson<{ faces: number; area_m2: number }>("POST", `/projects/${project.id}/unseen`, {
        pick: rule,
        eye: eyeSent(eye),
      }).catch(() => null);
      // A later question has a later answer.
      if (!left && mine === asked && told) {
        useWorkbench.setState({ unseen: { faces: told.faces, areaM2: told.area_m2 } });
      }
    };
    const soon = () => {
      window.clearTimeout(waiting);
      asked++;
      useWorkbench.setState({ unseen: null });
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
