import { useQuery } from "@tanstack/react-query";

import { getJson } from "../../../api/client";
import type { FaceFigures, Project } from "../../../api/wire.gen";
import { count, faceArea, ratio } from "../../../ui/numbers";
import { patternSize } from "../../../looks/tones";
import { usePanes } from "../../../state/panes";
import { useHand } from "../../../state/hand";

/** The figures of the face under the pointer. */
export function UnderPointer({ project }: { project: Project }) {
  const face = useHand((s) => s.hovered);
  const { data } = useQuery({
    queryKey: ["face", project.id, project.revision, face],
    queryFn: () => getJson<FaceFigures>(`/projects/${project.id}/faces/${face}`),
    enabled: face !== null,
    placeholderData: (previous) => previous,
  });
  const narrow = usePanes((s) => s.flat === "beside");
  if (face === null || !data) return null;
  return (
    <output
      data-testid="under-pointer"
      className={`figure pointer-events-none absolute right-2.5 ${narrow ? "top-2.5" : "bottom-2.5"} max-w-72 border border-rule bg-paper/95 px-2.5 py-1 leading-snug`}
    >
      <span className="block truncate">
        {data.part} · face {count(data.face)} · {faceArea(data.area_m2)}
      </span>
      {data.finish ? (
        <span className="block truncate">
          {data.finish} {data.name} · <Size figures={data} />
        </span>
      ) : (
        <span className="block text-wrong">bare</span>
      )}
    </output>
  );
}

function Size({ figures }: { figures: FaceFigures }) {
  const { kind } = figures;
  const low = figures.least_stretch ?? 1;
  const high = figures.greatest_stretch ?? 1;
  if (kind === "smeared") return <span className="text-wrong">smeared</span>;
  const size = patternSize(low, high);
  const words = Math.abs(size - 1) < 0.005 ? "true to scale" : `pattern at ${ratio(size)}`;
  return kind === "mirrored" ? <span className="text-wrong">mirrored, {words}</span> : <>{words}</>;
}
