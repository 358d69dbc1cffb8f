/** A finish with all of its coats as one shader: what lies beneath first, and then coat by coat. */

import { Color, type MeshBasicMaterial, type MeshStandardMaterial } from "three";

import type { Channel, Coat, Finish, Joins, Mask, Material } from "../api/wire.gen";
import { mostImages } from "../view/graphicsCard";
import { finishLaid, masksIn, nearMasks, overLaid, sheetsOver } from "./laid";
import { LIBRARY, NEAR_LINES } from "./library";
import { MaskCode } from "./masks";
import { Shading, type Drawn } from "./shading";
import { BOX_SIDES, sheetCode, type ImagesOf } from "./sheets";

/** What is shown of all the coats: lit, their color alone, one channel as it is stored, or where one of them lies. */
export type Shows =
  | { what: "lit" }
  | { what: "color" }
  | { what: "channel"; channel: Channel }
  | { what: "mask"; coat: number };

/** Whether a finish cannot be drawn by its images alone. */
export const isCoated = (finish: Finish) =>
  finish.coats.length > 0 ||
  finish.cells !== null ||
  finish.projection.kind === "triplanar" ||
  finish.tones_key !== null ||
  finish.spread !== null ||
  hasTone(finish);

/** Whether a finish looks otherwise than its images. */
const hasTone = ({ tint, lightness, roughness, bump }: Finish) =>
  tint !== null || lightness !== 1 || roughness !== 1 || bump !== 1;

/** What of a finish is built into its shader: all but the numbers, which follow the hand. */
export function structureOf(finish: Finish): string {
  const near = nearMasks(finish);
  const order = finish.coats.flatMap((coat) => masksIn(coat.where).map((mask) => near.indexOf(JSON.stringify(mask))));
  const { projection, tile, cells, coats, over, spread, tones_key } = finish;
  const kind = projection.kind === "triplanar" ? projection : projection.kind;
  const told = [
    kind,
    tile,
    cells !== null,
    hasTone(finish),
    spread?.by,
    tones_key !== null,
    coats,
    over.map((of) => of.laying_key !== null),
  ];
  return JSON.stringify([told, order], (key, value: unknown) => {
    if (key === "name" || typeof value === "number" || key === "lines" || key.endsWith("_mm")) return 0;
    if (key === "tint") return value !== null;
    return Array.isArray(value) && typeof value[0] === "number" ? 0 : value;
  });
}

/** How many images of color a finish shows, its coats and masks with it. */
function colorsOf(finish: Finish): number {
  const kinds = [finish.projection, ...sheetsOver(finish).map(({ projection }) => projection ?? finish.projection)];
  return kinds.reduce((sum, kind) => sum + (kind.kind === "triplanar" ? 3 : 1), 0);
}

/** Whether there is no room for all images of a finish: the bumps and the gloss of its last coats are then not drawn. */
export function isCrowded(finish: Finish, materials: Record<string, Material>): boolean {
  const keys = new Set([finish.material, ...sheetsOver(finish).map(({ material }) => material)]);
  const images = [...keys].map((key) => {
    const has = materials[key]?.images ?? {};
    const surface = has.roughness ?? has.metallic ?? has.occlusion;
    return Number(Boolean(has.base_color)) + Number(Boolean(has.normal)) + Number(Boolean(surface));
  });
  return images.reduce((sum, count) => sum + count, 0) > mostImages() - 1;
}

const DECLARED = /* glsl */ `
  varying vec3 vCoatPlace;
  varying vec3 vCoatNormal;
  // What counts for less than this is not seen.
  const float LEAST = 0.002;
  vec3 coatN, coatDx, coatDy, coatX, coatY, frameS, frameT;
  bool coatOutside = false;
`;

const TONED = "varying vec3 vToneColor;\nvarying vec2 vToneMade;";

// The gradients over the triangle of what changes by one from pixel to pixel, across and down.
const BEGUN = /* glsl */ `
  coatN = normalize(vCoatNormal);
  coatDx = dFdx(vCoatPlace);
  coatDy = dFdy(vCoatPlace);
  vec3 coatFlat = cross(coatDx, coatDy);
  float coatArea = max(dot(coatFlat, coatFlat), 1e-30);
  coatX = cross(coatDy, coatFlat) / coatArea;
  coatY = cross(coatFlat, coatDx) / coatArea;
`;

const CHANNEL_CODE: Record<Exclude<Channel, "base_color" | "normal">, string> = {
  roughness: "vec3(o.rough)",
  metallic: "vec3(o.metal)",
  height: "vec3(clamp(o.high / 10.0, 0.0, 1.0))",
  occlusion: "vec3(o.occluded)",
};

/** One row of the schedule put into the words of a shader. */
export class CoatedShader {
  private readonly shading: Shading;
  private readonly body: string[] = [];
  private usesLines = false;

  constructor(
    private readonly finish: Finish,
    private readonly materials: Record<string, Material>,
    imagesOf: ImagesOf,
    private readonly shows: Shows,
    most = mostImages(),
  ) {
    // The lines that masks are near to take a place of their own.
    this.shading = new Shading(most - 1, colorsOf(finish));
    const laid = (drawn: Drawn) => finishLaid(drawn);
    const first = finishLaid({ laid: finish, now: finish, materials, viewOrigin: [0, 0, 0], lines: null });
    const attribute = first.projection.kind === "triplanar" ? null : "vSheet";
    const base = sheetCode(this.shading, first, laid, attribute, materials, imagesOf, true);
    this.body.push(`Shown o = ${base}();`, "if (coatOutside) discard;");
    this.addTones();
    let row = 0;
    finish.coats.forEach((coat, at) => {
      if (coat.on || (shows.what === "mask" && shows.coat === at)) this.addCoat(coat, at, row, imagesOf);
      row += sheetsOver({ ...finish, coats: [coat] }).length;
    });
    if (shows.what === "mask" && finish.coats.length <= shows.coat) this.body.push("float shown = 0.0;");
  }

  private color(stem: string, of: (drawn: Drawn) => string | null | undefined): string {
    return this.shading.uniform("vec3", stem, new Color(1, 1, 1), (d, v) => {
      const stated = of(d);
      return stated ? v.set(stated) : v;
    });
  }

  /** How the finish looks beside its images, and some of its faces otherwise. */
  private addTones() {
    const { finish, shading, body } = this;
    if (hasTone(finish)) {
      const tint = shading.uniform("vec3", "tone", new Color(), ({ now }, v) =>
        v.set(now.tint ?? "#ffffff").multiplyScalar(now.lightness),
      );
      const rough = shading.uniform("float", "rougher", 1, (d) => d.now.roughness);
      const bump = shading.uniform("float", "bumpier", 1, (d) => d.now.bump);
      body.push(`o.color *= ${tint}; o.rough = clamp(o.rough * ${rough}, 0.0, 1.0); o.bend *= ${bump};`);
    }
    if (finish.tones_key) {
      body.push("o.color *= vToneColor; o.rough = clamp(o.rough * vToneMade.x, 0.0, 1.0); o.bend *= vToneMade.y;");
    }
  }

  /** A function that shows a sheet over the finish, by its number. */
  private over(row: number, imagesOf: ImagesOf): string {
    const { finish, materials, shading } = this;
    const at: Drawn = { laid: finish, now: finish, materials, viewOrigin: [0, 0, 0], lines: null };
    const own = sheetsOver(finish)[row]!;
    const first = overLaid(at, row)!;
    let attribute: string | null = "vSheet";
    if (first.projection.kind === "triplanar") attribute = null;
    else if (own.projection) {
      shading.sheets.add(row);
      attribute = `vSheet${row}`;
    }
    return sheetCode(shading, first, (d) => overLaid(d, row), attribute, materials, imagesOf);
  }

  private addCoat(coat: Coat, at: number, row: number, imagesOf: ImagesOf) {
    const { shading, body } = this;
    const stated = (d: Drawn) => d.now.coats[at];
    const strength = shading.uniform("float", "strength", 1, (d, v) => stated(d)?.strength ?? v);
    const mask = this.mask(coat.where, at, row + (coat.material ? 1 : 0), imagesOf);
    // Where nothing of it lies, nothing of it is looked up.
    body.push("{", `float w = ${strength} * ${mask};`, this.shows.what === "mask" ? "{" : "if (w > LEAST) {");
    if (coat.material) body.push(`Shown c = ${this.over(row, imagesOf)}();`, "w *= c.alpha;");
    else body.push("Shown c = nothing();");
    if (this.shows.what === "mask") {
      if (this.shows.coat === at) {
        body.unshift("float shown = 0.0;");
        body.push("shown = w;");
      }
      body.push("}}");
      return;
    }
    const has = coat.material ? this.materials[coat.material]!.images : {};
    const color = coat.tint ? this.color("tint", (d) => stated(d)?.tint) : null;
    const joins: [keyof Joins, string, string | null][] = [
      ["base_color", "color", has.base_color ? (color ? `c.color * ${color}` : "c.color") : color],
      ["normal", "bend", has.normal ? "c.bend" : null],
      ["roughness", "rough", this.value("roughness", coat, at) ?? (has.roughness ? "c.rough" : null)],
      ["metallic", "metal", this.value("metallic", coat, at) ?? (coat.material ? "c.metal" : null)],
      ["height", "high", has.height ? "c.high" : null],
      ["occlusion", "occluded", has.occlusion ? "c.occluded" : null],
    ];
    for (const [channel, field, value] of joins) {
      if (value) body.push(joined(joinOf(coat, channel), field, value));
    }
    body.push("}}");
  }

  private value(channel: "roughness" | "metallic", coat: Coat, at: number): string | null {
    if (coat[channel] === null) return null;
    return this.shading.uniform("float", channel, 0, (d, v) => d.now.coats[at]?.[channel] ?? v);
  }

  private mask(where: Mask | null, at: number, row: number, imagesOf: ImagesOf): string {
    if (!where) return "1.0";
    this.usesLines ||= masksIn(where).some((mask) => "seams" in mask || "edges" in mask || "strokes" in mask);
    const image = (number: number, channel: string) => {
      const shown = `${this.over(number, imagesOf)}()`;
      const value = {
        base_color: "color",
        roughness: "rough",
        metallic: "metal",
        height: "high",
        occlusion: "occluded",
      }[channel]!;
      if (channel === "base_color") return `dot(${shown}.${value}, vec3(1.0 / 3.0))`;
      return channel === "height" ? `(${shown}.${value} / 10.0)` : `${shown}.${value}`;
    };
    return new MaskCode(this.shading, this.finish, image, row).of(where, (finish) => finish.coats[at]?.where ?? null);
  }

  /** What is written of the color, once all coats have joined. */
  private written(): string {
    const { shows } = this;
    if (shows.what === "mask") return "diffuseColor.rgb = mix(vec3(0.62, 0.6, 0.56), vec3(0.02, 0.2, 0.25), shown);";
    if (shows.what !== "channel" || shows.channel === "base_color") return "diffuseColor.rgb *= o.color;";
    if (shows.channel !== "normal") return `diffuseColor.rgb *= asStored(${CHANNEL_CODE[shows.channel]});`;
    // As a normal map of the finish's own sheet would have it.
    return `vec3 told = normalize(vec3(-dot(o.bend, frameS), -dot(o.bend, frameT), 1.0));
      diffuseColor.rgb *= asStored(told * 0.5 + 0.5);`;
  }

  /** Makes a material shade so. */
  applyTo(material: MeshStandardMaterial | MeshBasicMaterial) {
    const { shading } = this;
    const sheets = [...shading.sheets];
    const carried = sheets.map((row) => `varying vec2 vSheet${row};\nvec2 vSheet${row}Dx, vSheet${row}Dy;`).join("\n");
    // Steps from pixel to pixel are told before anything is left out.
    const steps = ["vSheet", ...sheets.map((row) => `vSheet${row}`)]
      .map((of) => `${of}Dx = dFdx(${of}); ${of}Dy = dFdy(${of});`)
      .join("\n");
    const fragment = [
      LIBRARY, this.usesLines ? NEAR_LINES : "", DECLARED, "varying vec2 vSheet;\nvec2 vSheetDx, vSheetDy;", this.finish.tones_key ? TONED : "", carried, BOX_SIDES,
      ...shading.declared, ...shading.functions,
    ].join("\n"); // prettier-ignore
    const body = [BEGUN, steps, ...this.body, this.written()].join("\n");
    const lines = { value: null as unknown };
    if (this.usesLines) {
      shading.uniforms.linesMap = lines;
      shading.follow((drawn) => (lines.value = drawn.lines?.texture ?? null));
    }
    material.onBeforeCompile = (shader) => {
      Object.assign(shader.uniforms, shading.uniforms);
      const toned = this.finish.tones_key !== null;
      const heads =
        sheets.map((row) => `attribute vec2 sheet${row};\nvarying vec2 vSheet${row};`).join("\n") +
        (toned ? `\nattribute vec3 toneColor;\nattribute vec2 toneMade;\n${TONED}` : "");
      const put =
        sheets.map((row) => `vSheet${row} = sheet${row};`).join("\n") +
        (toned ? "vToneColor = toneColor; vToneMade = toneMade;" : "");
      shader.vertexShader = shader.vertexShader
        .replace(
          "#include <common>",
          `#include <common>\nvarying vec3 vCoatPlace;\nvarying vec3 vCoatNormal;\nvarying vec2 vSheet;\n${heads}`,
        )
        .replace(
          "#include <begin_vertex>",
          `#include <begin_vertex>\nvCoatPlace = position;\nvCoatNormal = normal;\nvSheet = uv;\n${put}`,
        );
      shader.fragmentShader = shader.fragmentShader
        .replace("#include <common>", `#include <common>\n${fragment}`)
        .replace("#include <map_fragment>", body)
        .replace("#include <roughnessmap_fragment>", "float roughnessFactor = o.rough;")
        .replace("#include <metalnessmap_fragment>", "float metalnessFactor = o.metal;")
        .replace("#include <normal_fragment_maps>", BENT)
        .replace("#include <aomap_fragment>", OCCLUDED);
    };
    const key = `${fragment}${body}`;
    material.customProgramCacheKey = () => key;
  }

  /** Sets the numbers of the shader to what is drawn now. */
  place(drawn: Drawn) {
    this.shading.place(drawn);
  }
}

const BENT = /* glsl */ `
  {
    vec3 gradient = o.bend - dot(o.bend, coatN) * coatN;
    normal = normalize(mat3(viewMatrix) * normalize(coatN - gradient)) * faceDirection;
  }
`;

// As three's own, for the occlusion that all coats come to.
const OCCLUDED = /* glsl */ `
  reflectedLight.indirectDiffuse *= o.occluded;
  #if defined( USE_ENVMAP ) && defined( STANDARD )
    reflectedLight.indirectSpecular *= computeSpecularOcclusion(
      saturate(dot(geometryNormal, geometryViewDir)), o.occluded, material.roughness);
  #endif
`;

/** How a channel of a coat joins: as stated, or as is usual. */
function joinOf(coat: Coat, channel: keyof Joins): string {
  const usual =
    coat.channels.base_color === "multiply" && (channel === "normal" || channel === "height") ? "add" : "mix";
  return coat.channels[channel] ?? usual;
}

/** The rules of `core.coats.joining`. */
function joined(join: string, field: string, value: string): string {
  const under = `o.${field}`;
  if (join === "multiply") return `${under} *= 1.0 - w + (${value}) * w;`;
  if (join === "add") return `${under} += w * (${value});`;
  return join === "none" ? "" : `${under} = ${under} * (1.0 - w) + (${value}) * w;`;
}
