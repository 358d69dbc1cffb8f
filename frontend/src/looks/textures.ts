/** The images of materials on the graphics card: one texture an image and repeat, shared by all that show it. */

import { LinearMipmapLinearFilter, RepeatWrapping, SRGBColorSpace, TextureLoader, type Texture } from "three";

import { viewUrl } from "../api/client";
import { underway } from "../api/underway";
import type { Channel, Material, Pair } from "../api/wire.gen";
import type { Images } from "../coats/sheets";
import { withoutCard } from "../view/graphicsCard";

const loader = new TextureLoader();
const textures = new Map<string, Texture>();
let loading = 0;

/** Whether every image that was asked for has come. */
export const texturesReady = () => loading === 0;

/**
 * One texture an image and repeat; the view draws again when the image has come. many: whether it is one of many that are
 * looked up at every point.
 */
export function texture(
  url: string,
  repeat: Pair,
  color: boolean,
  changed: () => void,
  placed = "",
  many = false,
): Texture {
  // As sharp at grazing angles as the graphics card can have it; of many, a processor would spend all its time on that.
  const anisotropy = many && withoutCard() ? 1 : 16;
  const key = `${url}|${repeat.join("x")}|${color}|${placed}|${anisotropy}`;
  const held = textures.get(key);
  if (held) return held;
  loading++;
  let come!: () => void;
  const image = new Promise<void>((resolve) => (come = resolve));
  const made = loader.load(url, come, undefined, come);
  void underway(image).then(() => {
    loading--;
    changed();
  });
  made.wrapS = made.wrapT = RepeatWrapping;
  made.minFilter = LinearMipmapLinearFilter;
  made.anisotropy = anisotropy;
  if (color) made.colorSpace = SRGBColorSpace;
  // uv arrives in mm; the sheet's own repeat turns it into 0 to 1.
  made.repeat.set(1 / repeat[0], 1 / repeat[1]);
  textures.set(key, made);
  return made;
}

/** The checker of a look, and the color of a material, as a sheet whose coordinates are mm. */
export const checkerTexture = (square: number, changed: () => void) =>
  texture(`/api/checker/${square}.png`, [square * 10, square * 10], true, changed);

export function colorTexture(material: Material, changed: () => void): Texture | null {
  const sha = material.images.base_color;
  return sha ? texture(viewUrl(sha), material.repeat_mm, true, changed) : null;
}

/** Occlusion, roughness and metal of a material as one image. */
function surfaceTexture({ images, repeat_mm }: Material, changed: () => void): Texture | null {
  const asked = new URLSearchParams();
  for (const channel of ["occlusion", "roughness", "metallic"] as const) {
    const sha = images[channel];
    if (sha) asked.set(channel, sha);
  }
  return asked.size ? texture(`/api/surface?${asked.toString()}`, repeat_mm, false, changed, "", true) : null;
}

/** The images of a material that are looked up for what is shown of it; a coat fades by its color's alpha. */
export function imagesOf(material: Material, wanted: (channel: Channel) => boolean, changed: () => void): Images {
  const { images, repeat_mm } = material;
  const one = (channel: Channel, color = false) => {
    const sha = images[channel];
    return sha && (color || wanted(channel)) ? texture(viewUrl(sha), repeat_mm, color, changed, "", true) : null;
  };
  const surface = (["roughness", "metallic", "occlusion"] as const).some(wanted);
  return {
    color: one("base_color", true),
    normal: one("normal"),
    surface: surface ? surfaceTexture(material, changed) : null,
    height: one("height"),
  };
}
