/** The lines that masks are near to, as a texture: four numbers a texel, looked up one by one. */

import { DataTexture, FloatType, NearestFilter, RGBAFormat } from "three";

import { readPacket } from "../api/packet";
import type { LinesHeader } from "../api/wire.gen";
import type { LinesTexture } from "./shading";

const WIDTH = 2048;

export function linesTexture(key: string, buffer: ArrayBuffer): LinesTexture {
  const packet = readPacket<LinesHeader>(buffer);
  const texels = packet.floats("texels");
  const height = Math.max(Math.ceil(texels.length / 4 / WIDTH), 1);
  const data = new Float32Array(WIDTH * height * 4);
  data.set(texels);
  const texture = new DataTexture(data, WIDTH, height, RGBAFormat, FloatType);
  texture.minFilter = texture.magFilter = NearestFilter;
  texture.needsUpdate = true;
  return { key, texture, grids: packet.header.grids };
}
