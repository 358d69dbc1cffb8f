import { useEffect, useMemo } from "react";
import { BufferAttribute, BufferGeometry } from "three";

import type { Project } from "../api/wire.gen";
import { linesInSight, useEveryEdge, type ModelArrays } from "../model/geometry";
import { useLook } from "../state/look";
import { usePick } from "../state/pick";

/** Creases and open edges, as a drawing would have them; or the edges of every face, or none. */
export function Lines({ project, model }: { project: Project; model: ModelArrays }) {
  const wanted = useLook((s) => s.edges);
  const hidden = usePick((s) => s.hidden.mask);
  const every = useEveryEdge(project, wanted === "faces").data;
  const lines = wanted === "faces" ? (every ?? model.lines) : model.lines;
  const geometry = useMemo(
    () => new BufferGeometry().setAttribute("position", new BufferAttribute(linesInSight(lines, hidden), 3)),
    [lines, hidden],
  );
  useEffect(() => () => geometry.dispose(), [geometry]);
  if (wanted === "none") return null;
  return (
    <lineSegments geometry={geometry} raycast={() => null}>
      <lineBasicMaterial color="#22282b" toneMapped={false} transparent opacity={0.28} />
    </lineSegments>
  );
}
