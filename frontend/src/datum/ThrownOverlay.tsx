import { useEffect } from "react";

import { useDatumDrawing, useEdits } from "../api/project";
import type { Finish, Pair, Project } from "../api/wire.gen";
import { cameraFrom } from "../model/cameraFrom";
import { useEye, type Eye } from "../model/eye";
import { rawOf } from "../model/placement";
import { current, put } from "../state";
import { useDesk } from "../state/desk";
import { useLook } from "../state/look";
import { Stroke } from "./marks";

/** While a sheet is thrown from wherever the view stands: its frame, which stands still, and the model that turns under it. */
export function ThrownOverlay({ project }: { project: Project }) {
  const key = useLook((s) => s.thrownFrom);
  const rows = useDesk((s) => s.rows);
  const finish = project.finishes.find((f) => f.key === key && rows.includes(f.key));
  useEffect(() => {
    if (key && !finish) put({ thrownFrom: null });
  }, [key, finish]);
  return finish ? <Thrown project={project} finish={finish} /> : null;
}

function Thrown({ project, finish }: { project: Project; finish: Finish }) {
  const { run } = useEdits(project.id);
  const eye = useEye();
  const { data: drawing } = useDatumDrawing(project, finish);
  const viewOrigin = project.model.view_origin_mm;
  const stored = finish.projection;
  const { key } = finish;
  useEffect(() => {
    if (stored.kind !== "camera") return;
    const follow = () => put({ live: { finish: key, projection: { ...stored, ...cameraFrom(viewOrigin) } } });
    const unfollow = useEye.subscribe((now, before) => now.matrix !== before.matrix && follow());
    return () => {
      unfollow();
      const { live } = current();
      if (live?.finish !== key || !live.projection) return;
      put({ live: { ...live, settling: true } });
      run({ kind: "set_projection", finishes: [key], projection: live.projection });
    };
  }, [key, stored, viewOrigin, run]);
  const distance = drawing?.projection?.kind === "camera" ? drawing.projection.at_mm : null;
  const material = project.materials[finish.material];
  if (!distance || !material || !eye.camera) return null;
  const corners = (
    [
      [0, 0],
      [1, 0],
      [1, 1],
      [0, 1],
    ] as Pair[]
  ).map(([u, v]) => onScreen(eye, distance, rawOf(finish, [u * material.repeat_mm[0], v * material.repeat_mm[1]])));
  return (
    <svg
      aria-label="The sheet before the view"
      data-testid="thrown"
      className="pointer-events-none absolute inset-0 h-full w-full overflow-hidden"
    >
      <Stroke d={`M${corners.map((at) => at.map((v) => v.toFixed(1)).join(" ")).join("L")}Z`} look="sheet" />
    </svg>
  );
}

/** The pixel of a place on a sheet that stands at a distance straight before the eye. */
function onScreen(eye: Eye, distance: number, [s, t]: Pair): Pair {
  const { elements } = eye.camera!.projectionMatrix;
  const aPixel = (elements[5] * eye.height) / 2 / (elements[15] === 1 ? 1 : distance);
  return [eye.width / 2 + s * aPixel, eye.height / 2 - t * aPixel];
}
