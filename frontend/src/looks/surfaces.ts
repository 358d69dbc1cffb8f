/** What the groups of the model are drawn with: a finish, flat color, checker, or a plain tone. */

import {
  ClampToEdgeWrapping,
  Color,
  DoubleSide,
  Matrix3,
  MeshBasicMaterial,
  MeshStandardMaterial,
  MirroredRepeatWrapping,
  RepeatWrapping,
  Vector2,
  type Texture,
} from "three";

import { viewUrl } from "../api/client";
import type { Channel, Finish, Material, Pair, SourceMaterial, SourceTexture, Triple } from "../api/wire.gen";
import type { Paint } from "./look";
import { placementChange, samePlacement } from "../model/placement";
import { CoatedShader, isCoated, structureOf, type Shows } from "../coats/coated";
import { sheetsOver } from "../coats/laid";
import type { LinesTexture } from "../coats/shading";
import { checkerTexture, imagesOf, texture } from "./textures";

/** Set back a little, so that creases and the pick lie clear of the faces. */
export const SET_BACK = {
  side: DoubleSide,
  shadowSide: DoubleSide,
  polygonOffset: true,
  polygonOffsetFactor: 1,
  polygonOffsetUnits: 2,
} as const;

export const PLAIN = "#d8d5cd";

/** Faces whose material has no image of the channel that is looked at. */
const MISSING = "#c9c2b2";

export function plainMaterial(color: string, vertexColors = false): MeshStandardMaterial {
  return new MeshStandardMaterial({ ...SET_BACK, color, vertexColors, roughness: 0.85 });
}

const WRAPPING = { repeat: RepeatWrapping, clamp: ClampToEdgeWrapping, mirror: MirroredRepeatWrapping } as const;

/** An image of the model's own, placed by the model's own coordinates. */
function sourceTexture(of: SourceTexture, color: boolean, changed: () => void): Texture {
  const held = texture(viewUrl(of.image), [1, 1], color, changed, JSON.stringify(of));
  held.channel = Math.min(of.uv_set, 2) + 1;
  [held.wrapS, held.wrapT] = [WRAPPING[of.wrap[0]], WRAPPING[of.wrap[1]]];
  // The file counts v from the top, the view from the bottom.
  const [c, s] = [Math.cos(of.turn), Math.sin(of.turn)];
  const [x, y] = of.scale;
  const down = new Matrix3().set(x * c, x * s, of.offset[0], -y * s, y * c, of.offset[1], 0, 0, 1);
  const flip = new Matrix3().set(1, 0, 0, 0, -1, 1, 0, 0, 1);
  held.matrixAutoUpdate = false;
  held.matrix.copy(flip).multiply(down).multiply(flip);
  return held;
}

/** A material as the model brought it, for bare faces; null stands for faces without one. */
export function sourceSurface(
  source: SourceMaterial,
  lit: boolean,
  changed: () => void,
): MeshStandardMaterial | MeshBasicMaterial {
  const { textures: images } = source;
  const map = (channel: string, color = false) => {
    const of = images[channel];
    return of ? sourceTexture(of, color, changed) : null;
  };
  const [r, g, b, a] = source.rgba;
  const options = {
    ...SET_BACK,
    color: new Color(r, g, b),
    map: map("base_color", true),
    opacity: source.alpha === "opaque" ? 1 : a,
    transparent: source.alpha === "blend",
    alphaTest: source.alpha === "mask" ? source.cutoff : 0,
  };
  if (!lit) return new MeshBasicMaterial({ ...options, toneMapped: false });
  const normal = images.normal?.factor ?? 1;
  return new MeshStandardMaterial({
    ...options,
    normalMap: map("normal"),
    normalScale: new Vector2(normal, normal),
    roughnessMap: map("metallic_roughness") ?? map("roughness"),
    metalnessMap: map("metallic_roughness") ?? map("metallic"),
    aoMap: map("occlusion"),
    emissiveMap: map("emissive", true),
    emissive: new Color(...source.emissive),
    roughness: source.roughness ?? 0.85,
    metalness: source.metallic ?? 0,
  });
}

type Maps = Partial<Record<Channel, Texture>>;

/** The channels that light falls on. */
const LIT: Channel[] = ["base_color", "normal", "roughness", "metallic", "occlusion"];

/** The images of a material as a look shows them, and the size in mm after which they repeat. */
function mapsOf(
  material: Material,
  paint: Paint,
  square: number,
  channel: Channel,
  changed: () => void,
): { maps: Maps; repeat: Pair } {
  if (paint.images === "checker") {
    return { maps: { base_color: checkerTexture(square, changed) }, repeat: [square * 10, square * 10] };
  }
  const maps: Maps = {};
  if (paint.images === "channel") {
    // One channel alone, as it is stored, in the place of the color.
    const sha = material.images[channel];
    if (sha) maps.base_color = texture(viewUrl(sha), material.repeat_mm, true, changed);
    return { maps, repeat: material.repeat_mm };
  }
  for (const [name, sha] of Object.entries(material.images) as [Channel, string][]) {
    if (name === "base_color" || (paint.lit && LIT.includes(name))) {
      maps[name] = texture(viewUrl(sha), material.repeat_mm, name === "base_color", changed);
    }
  }
  return { maps, repeat: material.repeat_mm };
}

const NO_MAPS: { maps: Maps; repeat: Pair } = { maps: {}, repeat: [1, 1] };

/** A finish as its sheet alone lies. */
const PLAINLY = { coats: [], tint: null, lightness: 1, roughness: 1, bump: 1, tones_key: null, spread: null };

/** The shader of a finish with coats, as a look shows it. A checker stands for the sheet alone, in its cells. */
function coatedShader(
  finish: Finish,
  materials: Record<string, Material>,
  paint: Paint,
  square: number,
  channel: Channel,
  changed: () => void,
  coat: number | null,
): CoatedShader {
  if (paint.images === "checker") {
    const checker = checkerTexture(square, changed);
    const side: Pair = [square * 10, square * 10];
    const plain = Object.fromEntries(
      Object.entries(materials).map(([key, of]) => [key, { ...of, repeat_mm: side, images: {}, metallic: 0 }]),
    );
    const images = { color: checker, normal: null, surface: null, height: null };
    const bare = { ...finish, ...PLAINLY };
    return new CoatedShader(bare, plain, () => images, { what: paint.lit ? "lit" : "color" });
  }
  const shows: Shows =
    paint.images === "channel"
      ? { what: "channel", channel }
      : paint.images === "mask"
        ? { what: "mask", coat: coat ?? -1 }
        : { what: paint.lit ? "lit" : "color" };
  const wanted = (of: Channel) =>
    shows.what === "lit" ? LIT.includes(of) : shows.what === "channel" ? shows.channel === of : of === "base_color";
  return new CoatedShader(finish, materials, (of) => imagesOf(of, wanted, changed), shows);
}

/** A texture with a matrix of its own and the same image, which is on the graphics card already. */
function cloned(shared: Texture): Texture {
  const { version } = shared.source;
  const clone = shared.clone();
  // Copying marks the image as changed, and it would be sent anew.
  shared.source.version = version;
  return clone;
}

/** One row of the schedule as it is drawn. What moves the sheet is set without building anything anew. */
export class RowSurface {
  readonly material: MeshStandardMaterial | MeshBasicMaterial;
  private readonly coated: CoatedShader | null = null;
  private readonly sheetEnd = { value: new Matrix3() };
  private own: Texture[] = [];

  constructor(
    readonly signature: string,
    finish: Finish,
    materials: Record<string, Material>,
    private readonly paint: Paint,
    square: number,
    channel: Channel,
    private readonly changed: () => void,
    coat: number | null = null,
  ) {
    const main = materials[finish.material]!;
    const coated = isCoated(finish);
    const { maps, repeat } = coated ? NO_MAPS : mapsOf(main, paint, square, channel, changed);
    const options = { ...SET_BACK, map: maps.base_color ?? null };
    if (!finish.tile) Object.assign(options, { polygonOffsetFactor: 0.5, polygonOffsetUnits: 1 });
    if (!paint.lit) {
      const color = paint.images === "channel" && !maps.base_color && !coated ? MISSING : undefined;
      this.material = new MeshBasicMaterial({ ...options, toneMapped: false, ...(color && { color }) });
    } else {
      this.material = new MeshStandardMaterial({
        ...options,
        normalMap: maps.normal ?? null,
        roughnessMap: maps.roughness ?? null,
        metalnessMap: maps.metallic ?? null,
        aoMap: maps.occlusion ?? null,
        roughness: maps.roughness ? 1 : paint.images === "checker" ? 0.9 : 0.8,
        metalness: paint.images === "checker" ? 0 : maps.metallic ? 1 : main.metallic,
        normalScale: new Vector2(1, main.normal_y === "-" ? -1 : 1),
      });
    }
    if (coated) {
      this.coated = coatedShader(finish, materials, paint, square, channel, changed, coat);
      this.coated.applyTo(this.material);
    } else if (!finish.tile) {
      this.endSheet(main.repeat_mm);
    }
    this.sheet = repeat;
    this.end = main.repeat_mm;
  }

  private readonly sheet: Pair;
  private readonly end: Pair;

  /** Shows the finish as it is under the hand; laid is as the corners were laid. */
  place(
    laid: Finish,
    now: Finish,
    materials: Record<string, Material>,
    viewOrigin: Triple,
    lines: LinesTexture | null = null,
  ) {
    if (this.coated) {
      this.coated.place({ laid, now, materials, viewOrigin, lines });
      return;
    }
    const still = samePlacement(laid, now);
    const change = placementChange(laid, now);
    this.sheetEnd.value.copy(new Matrix3().makeScale(1 / this.end[0], 1 / this.end[1]).multiply(change));
    this.move(still ? null : new Matrix3().makeScale(1 / this.sheet[0], 1 / this.sheet[1]).multiply(change));
  }

  /** Gives this row textures with a matrix of their own, or the shared ones back. */
  private move(matrix: Matrix3 | null) {
    if (!matrix && this.own.length === 0) return;
    const slots = ["map", "normalMap", "roughnessMap", "metalnessMap", "aoMap"] as const;
    const material = this.material as MeshStandardMaterial;
    if (matrix && this.own.length === 0) {
      for (const slot of slots) {
        const shared = material[slot];
        if (!shared) continue;
        const clone = cloned(shared);
        clone.userData.shared = shared;
        clone.matrixAutoUpdate = false;
        material[slot] = clone;
        this.own.push(clone);
      }
    }
    for (const slot of slots) {
      const held = material[slot];
      const shared = held?.userData.shared as Texture | undefined;
      if (!held || !shared) continue;
      if (matrix) held.matrix.copy(matrix);
      else material[slot] = shared;
    }
    if (!matrix) {
      this.own.forEach((clone) => clone.dispose());
      this.own = [];
    }
    this.changed();
  }

  /** A sheet that does not tile is drawn within its own outline only. */
  private endSheet(size: Pair) {
    const end = this.sheetEnd;
    end.value.makeScale(1 / size[0], 1 / size[1]);
    this.material.onBeforeCompile = (shader) => {
      shader.uniforms.sheetEnd = end;
      shader.vertexShader = shader.vertexShader
        .replace("#include <common>", "#include <common>\nuniform mat3 sheetEnd;\nvarying vec2 vSheet;")
        .replace("#include <begin_vertex>", "#include <begin_vertex>\nvSheet = (sheetEnd * vec3(uv, 1.0)).xy;");
      shader.fragmentShader = shader.fragmentShader
        .replace("#include <common>", "#include <common>\nvarying vec2 vSheet;")
        .replace(
          "#include <map_fragment>",
          "if (any(lessThan(vSheet, vec2(0.0))) || any(greaterThan(vSheet, vec2(1.0)))) discard;\n#include <map_fragment>",
        );
    };
    this.material.customProgramCacheKey = () => `single ${this.paint.images} ${this.paint.lit}`;
  }

  dispose() {
    this.own.forEach((clone) => clone.dispose());
    this.material.dispose();
  }
}

/** Every material that a finish shows. */
function materialsOf(finish: Finish): string[] {
  const kinds = [finish.projection, ...sheetsOver(finish).map((sheet) => sheet.projection)];
  const axes = kinds.flatMap((kind) => (kind?.kind === "triplanar" ? Object.values(kind.materials) : []));
  return [finish.material, ...sheetsOver(finish).map((sheet) => sheet.material), ...axes].filter((key) => key !== null);
}

/** Whatever needs a row's surface to be built anew, as text. */
export function surfaceSignature(
  finish: Finish,
  materials: Record<string, Material>,
  paint: Paint,
  square: number,
  channel: Channel,
  coat: number | null = null,
) {
  const used = materialsOf(finish).map((key) => materials[key] ?? null);
  return JSON.stringify([
    isCoated(finish) ? structureOf(finish) : null,
    finish.tile,
    used,
    paint,
    paint.images === "checker" ? square : 0,
    paint.images === "channel" ? channel : 0,
    paint.images === "mask" ? coat : 0,
  ]);
}
