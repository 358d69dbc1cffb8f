/**
 * The light that a model stands in, made in code: sun, sky, and what the ground gives back.
 *
 * The sky's luminance follows the CIE general sky (ISO 15469:2004 / CIE S 011, written from memory): type 12, clear,
 * or type 1, overcast. Everything is scaled so that a level white card in the open, with the sun well up, has a
 * luminance of 1: then the picture shows base colors as they are.
 */

import {
  Color,
  DataTexture,
  EquirectangularReflectionMapping,
  FloatType,
  LinearFilter,
  RGBAFormat,
  Vector3,
} from "three";

import type { Light } from "../state/look";

/** Gradation (a, b) and scattering (c, d, e) of the sky's luminance. */
interface SkyType {
  a: number;
  b: number;
  c: number;
  d: number;
  e: number;
}

const CLEAR: SkyType = { a: -1, b: -0.32, c: 10, d: -3, e: 0.45 };
const OVERCAST: SkyType = { a: 4, b: -0.7, c: 0, d: -1, e: 0 };

/** What of the light on a level card comes from the clear sky; the rest is the sun's. */
const SKY_SHARE = 0.4;
/** A low sun gives a level card less: its own strength has this end, in the luminance of a card that faces it. */
const STRONGEST = 1.05;
/** What the ground gives back of the light that falls on it, slightly warm. */
const GROUND = new Color().setRGB(0.3, 0.285, 0.265);
/** The color of the clear sky, of mean 1; the sun has what is missing to white. */
const SKY_COLOR: [number, number, number] = [0.88, 0.99, 1.13];

const radians = (degrees: number) => (degrees * Math.PI) / 180;

/** Where the sun stands: a direction of length 1, z up. */
export function sunDirection({ sun_deg, up_deg }: Light): Vector3 {
  const [round, up] = [radians(sun_deg), radians(up_deg)];
  return new Vector3(Math.cos(round) * Math.cos(up), Math.sin(round) * Math.cos(up), Math.sin(up));
}

/** The sky's relative luminance in a direction above the horizon. */
function relative(type: SkyType, direction: Vector3, sun: Vector3): number {
  const { a, b, c, d, e } = type;
  const gradation = 1 + a * Math.exp(b / Math.max(direction.z, 0.01));
  const away = Math.acos(Math.min(1, Math.max(-1, direction.dot(sun))));
  const scattering = 1 + c * (Math.exp(d * away) - Math.exp((d * Math.PI) / 2)) + e * Math.cos(away) ** 2;
  return Math.max(gradation * scattering, 0);
}

export interface Daylight {
  /** Linear radiance from a direction, the sun left out. */
  radiance: (direction: Vector3) => [number, number, number];
  /** The sun's irradiance on a card that faces it, as the renderer counts it, and its color of mean 1. */
  sun: { strength: number; color: [number, number, number]; direction: Vector3 };
  /** The luminance of a level white card in the open. */
  level: number;
}

/** Integrates over the upper half: what falls on a level card, over pi. */
function onLevel(of: (direction: Vector3) => number): number {
  const steps = 64;
  let sum = 0;
  for (let k = 0; k < steps; k++) {
    // Equal steps of sin² of the zenith angle are equal shares of a level card's light.
    const up = Math.sqrt(1 - (k + 0.5) / steps);
    const flat = Math.sqrt(1 - up * up);
    for (let m = 0; m < steps * 2; m++) {
      const round = (2 * Math.PI * (m + 0.5)) / (steps * 2);
      sum += of(new Vector3(flat * Math.cos(round), flat * Math.sin(round), up));
    }
  }
  return sum / (steps * steps * 2);
}

export function daylight(light: Light): Daylight {
  const sun = sunDirection(light);
  const type = light.overcast ? OVERCAST : CLEAR;
  const share = light.overcast ? 1 : SKY_SHARE;
  const scale = share / onLevel((direction) => relative(type, direction, sun));
  const tint = light.overcast ? ([1, 1, 1] as const) : SKY_COLOR;
  const facing = light.overcast ? 0 : Math.min((1 - share) / sun.z, STRONGEST);
  const level = share + facing * sun.z;
  // The sun has what the sky lacks to white, as it is where it stands well up.
  const color = tint.map((part) => (1 - share * part) / Math.max(1 - share, 1e-9)) as [number, number, number];
  const ground = [GROUND.r, GROUND.g, GROUND.b].map((part) => part * level);
  return {
    radiance: (direction) => {
      if (direction.z < 0) return ground as [number, number, number];
      const luminance = scale * relative(type, direction, sun);
      return tint.map((part) => part * luminance) as [number, number, number];
    },
    sun: { strength: facing * Math.PI, color: light.overcast ? [1, 1, 1] : color, direction: sun },
    level,
  };
}

/** Pixels round the sky; it is so soft that more shows no difference, and takes seconds without a graphics card. */
const ROUND = 256;

/** The sky as an image that the renderer takes for its surroundings. Directions are those of the model, z up. */
export function skyImage(light: Light): DataTexture {
  const { radiance } = daylight(light);
  const [width, height] = [ROUND, ROUND / 2];
  const data = new Float32Array(width * height * 4);
  const direction = new Vector3();
  for (let row = 0; row < height; row++) {
    // The renderer takes y for the pole of such an image.
    const pole = Math.sin(Math.PI * ((row + 0.5) / height - 0.5));
    const flat = Math.sqrt(1 - pole * pole);
    for (let column = 0; column < width; column++) {
      const round = 2 * Math.PI * ((column + 0.5) / width - 0.5);
      direction.set(flat * Math.cos(round), pole, flat * Math.sin(round));
      data.set([...radiance(direction), 1], (row * width + column) * 4);
    }
  }
  const texture = new DataTexture(data, width, height, RGBAFormat, FloatType);
  texture.mapping = EquirectangularReflectionMapping;
  texture.minFilter = texture.magFilter = LinearFilter;
  texture.needsUpdate = true;
  return texture;
}
