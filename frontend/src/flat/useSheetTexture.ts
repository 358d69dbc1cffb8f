import { useMemo } from "react";
import type { Texture } from "three";

import type { Finish, Project } from "../api/wire.gen";
import { PLAIN } from "../looks/surfaces";
import { checkerTexture, colorTexture } from "../looks/textures";
import { lookOf } from "../looks/registry";
import { useLook } from "../state/look";

/** What the sheet shows: its material, or the checker of the look. */
export function useSheetTexture(
  project: Project,
  finish: Finish,
  changed: () => void,
): { map: Texture | null; color: string } {
  const { paint, draws } = lookOf(useLook((s) => s.look));
  const square = useLook((s) => s.squareMm) ?? project.model.checker_mm;
  const material = project.materials[finish.material];
  return useMemo(() => {
    if (draws === "pattern" && paint.images === "checker") {
      return { map: checkerTexture(square, changed), color: "#ffffff" };
    }
    const map = material ? colorTexture(material, changed) : null;
    return { map, color: map ? "#ffffff" : PLAIN };
  }, [draws, paint, square, material, changed]);
}
