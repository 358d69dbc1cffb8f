/** One tone a face for the looks that show what is measured: stretch, and what is bare or smeared. */

import { useThree } from "@react-three/fiber";
import { useEffect } from "react";
import { Color, type BufferGeometry } from "three";

import type { Project } from "../api/wire.gen";
import { toneFaces, type ModelArrays } from "../model/geometry";
import { lookOf } from "./registry";
import { UNMEASURED } from "./tones";
import { useFaceTones } from "./useFaceTones";
import type { Look } from "../state/look";

export function useTones(project: Project, model: ModelArrays, geometry: BufferGeometry, look: Look) {
  const { invalidate } = useThree();
  const { tone } = lookOf(look);
  const tones = useFaceTones(project, look);
  useEffect(() => {
    if (!tone) return;
    const color = new Color();
    const linear = (hex: string): [number, number, number] => color.set(hex).toArray() as [number, number, number];
    if (!tones) {
      const flat = linear(UNMEASURED);
      toneFaces(geometry, model, () => flat);
    } else {
      const { low, high, kind } = tones;
      toneFaces(geometry, model, (face) => linear(tone({ low: low[face]!, high: high[face]!, kind: kind[face]! })));
    }
    invalidate();
  }, [tones, tone, model, geometry, invalidate]);
}
