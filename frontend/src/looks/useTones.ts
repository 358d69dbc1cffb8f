/** One tone a face for the looks that show what is measured: stretch, and what is bare or smeared. */

import { useThree } from "@react-three/fiber";
import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Color, type BufferGeometry } from "three";

import { getBytes } from "../api/client";
import { readPacket } from "../api/packet";
import type { Project } from "../api/wire.gen";
import { toneFaces, type ModelArrays } from "../model/geometry";
import { lookOf } from "./registry";
import { UNMEASURED } from "./tones";
import type { Look } from "../state/look";

export function useTones(project: Project, model: ModelArrays, geometry: BufferGeometry, look: Look) {
  const { invalidate } = useThree();
  const { tone } = lookOf(look);
  const { data } = useQuery({
    queryKey: ["stretch", project.id, project.revision],
    queryFn: async () => readPacket(await getBytes(`/projects/${project.id}/looks/stretch`)),
    enabled: tone !== undefined,
    placeholderData: (previous) => previous,
  });
  useEffect(() => {
    if (!tone) return;
    const color = new Color();
    const linear = (hex: string): [number, number, number] => color.set(hex).toArray() as [number, number, number];
    if (!data) {
      const flat = linear(UNMEASURED);
      toneFaces(geometry, model, () => flat);
    } else {
      const [low, high, kind] = [data.floats("low"), data.floats("high"), data.bytes("kind")];
      toneFaces(geometry, model, (face) => linear(tone({ low: low[face]!, high: high[face]!, kind: kind[face]! })));
    }
    invalidate();
  }, [data, tone, model, geometry, invalidate]);
}
