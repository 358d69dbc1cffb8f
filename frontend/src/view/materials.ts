/** Physically based materials of the finishes, with their images sized in mm. */

import {
  DoubleSide,
  LinearMipmapLinearFilter,
  MeshStandardMaterial,
  RepeatWrapping,
  SRGBColorSpace,
  TextureLoader,
  type Texture,
} from "three";

import { imageUrl } from "../api/client";
import type { Material, Pair } from "../api/types";

export type Look = "finish" | "checker" | "bare";

const loader = new TextureLoader();
const textures = new Map<string, Texture>();

/** One texture an image and repeat; the view draws again when the image has come. */
function texture(url: string, repeat: Pair, color: boolean, changed: () => void): Texture {
  const key = `${url}|${repeat.join("x")}`;
  const held = textures.get(key);
  if (held) return held;
  const made = loader.load(url, changed);
  made.wrapS = made.wrapT = RepeatWrapping;
  made.minFilter = LinearMipmapLinearFilter;
  made.anisotropy = 8;
  if (color) made.colorSpace = SRGBColorSpace;
  // uv arrives in mm; the sheet's own repeat turns it into 0 to 1.
  made.repeat.set(1 / repeat[0], 1 / repeat[1]);
  textures.set(key, made);
  return made;
}

/** Set back a little, so that creases and the pick lie clear of the faces. */
const SURFACE = {
  side: DoubleSide,
  shadowSide: DoubleSide,
  polygonOffset: true,
  polygonOffsetFactor: 1,
  polygonOffsetUnits: 2,
} as const;

export function finishMaterial(material: Material, changed: () => void): MeshStandardMaterial {
  const { base_color, normal, roughness } = material.images;
  const image = (sha?: string, color = false) =>
    sha ? texture(imageUrl(sha), material.repeat_mm, color, changed) : null;
  return new MeshStandardMaterial({
    ...SURFACE,
    map: image(base_color, true),
    normalMap: image(normal),
    roughnessMap: image(roughness),
    roughness: roughness ? 1 : 0.8,
    metalness: material.metallic,
  });
}

/** The checker: ten squares by ten of the given size in mm, whatever the finish. */
export function checkerMaterial(squareMm: number, changed: () => void): MeshStandardMaterial {
  const map = texture(`/api/checker/${squareMm}.png`, [squareMm * 10, squareMm * 10], true, changed);
  return new MeshStandardMaterial({ ...SURFACE, map, roughness: 0.9 });
}

export const BARE_COLORS: Record<Look, string> = { finish: "#d8d5cd", checker: "#d8d5cd", bare: "#d4512c" };

export function plainMaterial(color: string): MeshStandardMaterial {
  return new MeshStandardMaterial({ ...SURFACE, color, roughness: 0.85 });
}
