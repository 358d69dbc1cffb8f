/** One tone a face for the looks that show what is measured: stretch, and what is bare or smeared. */

import { useThree } from "@react-three/fiber";
import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Color, type BufferGeometry } from "three";

import { getBytes } from "../api/client";
import { readPacket } from "../api/packet";
import type { Project } from "../api/types";
import { toneFaces, type ModelArrays } from "./geometry";
import { isToned, type Look } from "./materials";
import { FAULTS, sizeTone, UNMEASURED } from "./tones";

export function useTones(project: Project, model: ModelArrays, geometry: BufferGeometry, look: Look) {
  const { invalidate } = useThree();
  const { data } = useQuery({
    queryKey: ["stretch", project.id, project.revision],
    queryFn: async () => readPacket(await getBytes(`/projects/${project.id}/looks/stretch`)),
    enabled: isToned(look),
    placeholderData: (previous) => previous,
  });
  useEffect(() => {
    if (!isToned(look)) return;
    const color = new Color();
    const linear = (hex: string): [number, number, number] => color.set(hex).toArray() as [number, number, number];
    if (!data) {
      const flat = linear(UNMEASURED);
      toneFaces(geometry, model, () => flat);
    } else {
      const [low, high, kind] = [data.floats("low"), data.floats("high"), data.bytes("kind")];
      const faults = FAULTS.map((fault) => linear(fault.color));
      toneFaces(geometry, model, (face) => {
        const what = kind[face]!;
        if (look === "bare") return faults[what]!;
        return what === 1 ? linear(UNMEASURED) : linear(sizeTone(low[face]!, high[face]!));
      });
    }
    invalidate();
  }, [data, look, model, geometry, invalidate]);
}
