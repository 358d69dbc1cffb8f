import { useEffect, useRef } from "react";

import type { Project } from "../../../api/wire.gen";
import { put } from "../../../state";
import { NOTHING } from "../../../state/pick";

/** What is in hand names faces of one model: another model begins with empty hands. */
export function useFreshPick(project: Project) {
  const mesh = useRef(project.model.mesh);
  useEffect(() => {
    if (mesh.current === project.model.mesh) return;
    mesh.current = project.model.mesh;
    put({ pick: NOTHING, hidden: NOTHING, unseen: null, trials: null, live: null, hovered: null, clip: null });
  }, [project.model.mesh]);
}
