/** Keeps the drawn geometry in step with the schedule: only what changed is fetched. */

import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import type { BufferGeometry } from "three";

import { getBytes } from "../api/client";
import type { Project } from "../api/types";
import { useNotices } from "../ui/notices";
import { groupByRow, placeSheet, type ModelArrays } from "./geometry";

/**
 * The revision whose pattern the geometry shows, or null before the first.
 *
 * A newer state aborts the fetches of an older one, and everything of one state is applied at once:
 * the view never shows an older state after a newer one, nor half of one.
 */
export function useLaying(project: Project, model: ModelArrays, geometry: BufferGeometry): number | null {
  const held = useRef({ geometry, coverKey: "", cover: new Int16Array(0), layings: new Map<string, string>() });
  const [shown, setShown] = useState<number | null>(null);
  const tell = useNotices((s) => s.tell);
  const queries = useQueryClient();

  useEffect(() => {
    const stop = new AbortController();
    const have = held.current;
    if (have.geometry !== geometry) {
      held.current = { geometry, coverKey: "", cover: new Int16Array(0), layings: new Map() };
    }
    const { coverKey, cover, layings } = held.current;
    const path = `/projects/${project.id}`;
    const wanted = project.finishes
      .map((finish, row) => ({ finish, row }))
      .filter(({ finish }) => finish.faces > 0 && layings.get(finish.key) !== finish.laying_key);

    const bring = async () => {
      const [newCover, ...sheets] = await Promise.all([
        coverKey === project.cover_key
          ? null
          : getBytes(`${path}/cover?key=${project.cover_key}`, stop.signal),
        ...wanted.map(({ finish }) =>
          getBytes(`${path}/laying/${finish.key}?key=${finish.laying_key}`, stop.signal),
        ),
      ]);
      if (stop.signal.aborted) return;
      // No content: the project has moved on already. Its newer state is on the way or is asked for.
      if ([newCover, ...sheets].some((part) => part?.byteLength === 0)) {
        void queries.invalidateQueries({ queryKey: ["project", project.id] });
        return;
      }
      const nowCover = newCover ? new Int16Array(newCover) : cover;
      if (newCover) groupByRow(geometry, model, nowCover, project.finishes.length);
      wanted.forEach(({ row }, at) => {
        placeSheet(geometry, model, nowCover, row, new Float32Array(sheets[at]!));
      });
      held.current = {
        geometry,
        coverKey: project.cover_key,
        cover: nowCover,
        layings: new Map(project.finishes.map((f) => [f.key, f.laying_key])),
      };
      setShown(project.revision);
    };
    bring().catch((error: unknown) => {
      if (stop.signal.aborted) return;
      tell(error instanceof Error ? error.message : String(error));
    });
    return () => stop.abort();
  }, [project, model, geometry, queries, tell]);

  return shown;
}
