/** While a datum is dragged, the pattern as the server lays it there. */

import { useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import type { BufferGeometry } from "three";

import { askBytes } from "../api/client";
import type { Finish, Placement as PlacementSent, Preview, Project } from "../api/wire.gen";
import { placeSheet, type ModelArrays } from "./geometry";
import { coalesced } from "./coalesced";
import { geometryOf, type Laid } from "./useLaying";
import { type Live, useHand } from "../state/hand";
import { current } from "../state";

type Asked = Pick<Live, "finish" | "datum" | "projection">;

/** The placement that the corners in the view were laid by; the shader takes them from there to where the sheet lies now. */
function placedAs(finish: Finish | undefined): PlacementSent | null {
  return finish ? { turn_deg: finish.turn_deg, offset_mm: finish.offset_mm, scale: finish.scale } : null;
}

/** Asks for one laying at a time, always of the latest place, and shows it unless a newer state has come. */
export function usePreview(project: Project, model: ModelArrays, geometry: BufferGeometry, laid: Laid | null) {
  const { invalidate } = useThree();
  const latest = useRef(laid);
  latest.current = laid;

  useEffect(() => {
    const ask = coalesced(async ({ finish, datum, projection }: Asked) => {
      const before = latest.current;
      const bytes = await askBytes(`/projects/${project.id}/preview/${finish}`, {
        datum,
        projection,
        placed: placedAs(before?.finishes.get(finish)),
      } satisfies Preview);
      const now = latest.current;
      const { live } = current();
      // Let go or taken back meanwhile: what is confirmed is newer than what was asked for here.
      if (!before || before !== now || live?.finish !== finish) return;
      const faces = now.drawn.get(finish);
      if (!faces) return;
      placeSheet(geometryOf(now, geometry, finish), model, faces, new Float32Array(bytes));
      invalidate();
      useHand.setState((s) => ({ previews: s.previews + 1 }));
    });
    const restore = async (key: string) => {
      const now = latest.current;
      const finish = now?.finishes.get(key);
      if (!now || !finish) return;
      const bytes = await askBytes(`/projects/${project.id}/preview/${key}`, {
        placed: placedAs(finish),
      } satisfies Preview);
      const faces = now.drawn.get(key);
      if (now !== latest.current || current().live || !faces || bytes.byteLength === 0) return;
      placeSheet(geometryOf(now, geometry, key), model, faces, new Float32Array(bytes));
      invalidate();
    };
    return useHand.subscribe((state, old) => {
      const { live } = state;
      const given = old.live;
      // Taken back: what was confirmed before comes again.
      if (!live && given && !given.settling && (given.datum || given.projection)) void restore(given.finish);
      if (!live || live === old.live || (!live.datum && !live.projection)) return;
      // The shader places a triplanar finish by itself.
      const finish = project.finishes.find((f) => f.key === live.finish);
      if (finish?.projection.kind === "triplanar") return;
      ask({ finish: live.finish, datum: live.datum, projection: live.projection });
    });
  }, [project, model, geometry, invalidate]);
}
