/** A sheet as it lies on the surface, in the shader: by its corners or triplanar, whole or in random cells. */

import { Matrix3, Matrix4, Vector2, type Texture } from "three";

import type { Cells, Datum, Material, Pair, Projection, Spread, Triple } from "../api/wire.gen";
import { datumMatrix } from "../datum/frame";
import type { Drawn, Shading } from "./shading";

/** The images of a material as they are sampled; null where it has none of the kind. */
export interface Images {
  color: Texture | null;
  normal: Texture | null;
  /** Occlusion, roughness and metal as red, green and blue. */
  surface: Texture | null;
  height: Texture | null;
}

export type ImagesOf = (material: Material) => Images;

/** The roughness of a material that states none, as in the core. */
const DULL = "0.8";

/** From black to white of a height image, in mm, as in the core. */
const HEIGHT_MM = "10.0";

/** A function that adds what a material shows at a place on its sheet; its name. */
function materialCode(shading: Shading, material: Material, images: Images): string {
  const name = shading.name("material");
  const at = (image: Texture | null, color = false) => {
    const sampler = image && shading.sampler(image, color);
    return sampler ? `textureGrad(${sampler}, uv, dx, dy)` : null;
  };
  const color = at(images.color, true);
  const surface = at(images.surface);
  const height = at(images.height);
  const normal = at(images.normal);
  const lines = [];
  if (color) lines.push(`vec4 c = ${color}; o.color += w * tone * c.rgb; o.alpha += w * c.a;`);
  else lines.push("o.color += vec3(w * tone); o.alpha += w;");
  const has = material.images;
  if (surface) lines.push(`vec3 made = ${surface}.rgb;`);
  lines.push(`o.occluded += w * ${surface && has.occlusion ? "made.r" : "1.0"};`);
  lines.push(`o.rough += w * ${surface && has.roughness ? "made.g" : DULL};`);
  lines.push(`o.metal += w * ${surface && has.metallic ? "made.b" : material.metallic.toFixed(6)};`);
  if (height) lines.push(`o.high += w * ${HEIGHT_MM} * ${height}.r;`);
  if (normal) {
    const up = material.normal_y === "-" ? "-1.0" : "1.0";
    lines.push(`vec3 n = ${normal}.xyz * 2.0 - 1.0; n.y *= ${up};`);
    lines.push("vec2 slope = -n.xy / max(n.z, 1e-3); o.bend += w * (slope.x * S + slope.y * T);");
  }
  shading.functions.push(
    `void ${name}(inout Shown o, float w, float tone, vec2 uv, vec2 dx, vec2 dy, vec3 S, vec3 T) {\n${lines.join("\n")}\n}`,
  );
  return name;
}

/** How a sheet lies: the same for a finish, a coat and the image of a mask. */
export interface Laid {
  material: string;
  /** What it measures from, where it is triplanar. */
  projection: Projection;
  datum: Datum | null;
  /** For each axis of triplanar from raw to final; of others for the first alone, from how the corners were laid. */
  matrixOf: (axis: number) => Matrix3;
  scale: Pair;
  tile: boolean;
  cells: Cells | null;
  /** How its units or cells differ in lightness. */
  spread: Spread | null;
}

/** How light a sheet is at a place of it: the expression. chance: of its cell, 0 to 1; null where it is whole. */
type ToneCode = (place: string, chance: string | null) => string;

/** The lightness of each unit of a material, or of each cell, where they differ. */
function toneCode(shading: Shading, first: Laid, get: (drawn: Drawn) => Laid | null, material: Material): ToneCode {
  const by = first.spread?.by;
  if (by !== "unit" && by !== "cell") return () => "1.0";
  const much = shading.uniform("float", "spread", 0, (d) => get(d)?.spread?.lightness ?? 0);
  const differing = (chance: string) => `1.0 + ${much} * (2.0 * ${chance} - 1.0)`;
  if (by === "cell") return (_, chance) => (chance ? differing(chance) : "1.0");
  const { joints, repeat_mm } = material;
  if (!joints) return () => "1.0";
  const seed = shading.uniform("int", "spreadSeed", 1, (d, v) => get(d)?.spread?.seed ?? v);
  const [along, up] = joints.unit_mm.map((own, k) => (own ?? repeat_mm[k]!).toFixed(6));
  const [s, t] = joints.at_mm.map((mm) => mm.toFixed(6));
  const name = shading.name("unitTone");
  shading.functions.push(/* glsl */ `
    float ${name}(vec2 st) {
      int course = int(floor((st.y - ${t}) / ${up}));
      int unit = int(floor((st.x - ${s} - float(course) * ${joints.bond.toFixed(6)} * ${along}) / ${along}));
      return ${differing(`share(pcg4d(ivec4(unit, course, 7, ${seed})).x)`)};
    }`);
  return (place) => `${name}(${place})`;
}

/** Cuts a sheet into cells: a function that adds what they show. mm: places on the face, q; their steps; the sheet's size. */
function cellsCode(shading: Shading, get: (drawn: Drawn) => Laid | null, show: string, tone: ToneCode): string {
  const name = shading.name("cells");
  const of = (drawn: Drawn) => get(drawn)?.cells;
  const size = shading.uniform("float", "cellMm", 1, (d, v) => of(d)?.size_mm ?? v);
  const width = shading.uniform("float", "cellBlend", 0, (d, v) => of(d)?.width_mm ?? v);
  const quarters = shading.uniform("bool", "cellQuarters", true, (d) => of(d)?.turn_deg === "quarters");
  const turn = shading.uniform("float", "cellTurn", 0, (d) => (Number(of(d)?.turn_deg) || 0) * (Math.PI / 180));
  const shift = shading.uniform("float", "cellShift", 1, (d) => Number(of(d)?.shift ?? true));
  const seed = shading.uniform("int", "cellSeed", 1, (d, v) => of(d)?.seed ?? v);
  shading.functions.push(/* glsl */ `
    void ${name}(inout Shown o, float w, vec2 st, vec2 ax, vec2 ay, vec3 S, vec3 T, vec2 repeat, vec2 scale, int axis) {
      vec2 q = st * scale, side = sign(scale);
      ivec2 home = ivec2(floor(q / ${size}));
      vec2 middle[9];
      float away[9];
      float nearest = 1e30;
      for (int k = 0; k < 9; k++) {
        ivec2 c = home + ivec2(k % 3 - 1, k / 3 - 1);
        uvec4 h = pcg4d(ivec4(c, axis, ${seed}));
        middle[k] = (vec2(c) + 0.5 + 0.35 * (2.0 * vec2(share(h.x), share(h.y)) - 1.0)) * ${size};
        away[k] = distance(q, middle[k]);
        nearest = min(nearest, away[k]);
      }
      float total = 0.0;
      for (int k = 0; k < 9; k++) {
        float off = (away[k] - nearest) / 2.0;
        float u = off <= 0.0 ? 1.0 : ${width} > 0.0 ? max(0.0, 1.0 - off / ${width}) : 0.0;
        away[k] = u / (2.0 - u);
        total += away[k];
      }
      for (int k = 0; k < 9; k++) {
        if (away[k] <= 0.0) continue;
        ivec2 c = home + ivec2(k % 3 - 1, k / 3 - 1);
        float part = share(pcg4d(ivec4(c, axis, ${seed})).z);
        uvec4 g = pcg4d(ivec4(c, axis + 3, ${seed}));
        float a = ${quarters} ? floor(4.0 * part) * 1.5707963267948966 : ${turn} * (2.0 * part - 1.0);
        float cs = cos(a), sn = sin(a);
        mat2 back = mat2(cs, -sn, sn, cs);
        vec2 shift = ${shift} * vec2(share(g.x), share(g.y)) * abs(scale) * repeat;
        vec2 place = (middle[k] + back * (q - middle[k]) + shift) / scale;
        vec3 s = S * side.x, t = T * side.y;
        ${show}(o, w * away[k] / total, ${tone("place", "share(g.z)")}, place / repeat, (back * (ax * scale)) / scale / repeat,
          (back * (ay * scale)) / scale / repeat, (cs * s + sn * t) * side.x, (cs * t - sn * s) * side.y);
      }
    }`);
  return name;
}

/**
 * A function that answers with what a sheet shows at the point; its name. first: how it lies when it is built. get: as it
 * lies now. attribute: the varying of its corners; triplanar has none. frame: whether it is what the normal is told in.
 */
export function sheetCode(
  shading: Shading,
  first: Laid,
  get: (drawn: Drawn) => Laid | null,
  attribute: string | null,
  materials: Record<string, Material>,
  imagesOf: ImagesOf,
  frame = false,
): string {
  const name = shading.name("sheet");
  const kept = frame ? "frameS = S; frameT = T;" : "";
  const once = first.tile
    ? ""
    : "if (any(lessThan(st, vec2(0.0))) || any(greaterThan(st, repeat))) { w = 0.0; outside = true; }";
  const scale = shading.uniform("vec2", "size", new Vector2(1, 1), (d, v) => v.set(...(get(d)?.scale ?? [1, 1])));
  const show = (material: Material) => {
    const own = materialCode(shading, material, imagesOf(material));
    const [width, height] = material.repeat_mm.map((mm) => mm.toFixed(6));
    const tone = toneCode(shading, first, get, material);
    const cut = first.cells ? cellsCode(shading, get, own, tone) : null;
    return (axis: number) =>
      `{ vec2 repeat = vec2(${width}, ${height}); ${once} ` +
      (cut
        ? `if (w > LEAST) ${cut}(o, w, st, ax, ay, S, T, repeat, ${scale}, ${axis}); }`
        : `if (w > LEAST) ${own}(o, w, ${tone("st", null)}, st / repeat, ax / repeat, ay / repeat, S, T); }`);
  };
  const main = materials[first.material]!;
  if (attribute) {
    const placed = shading.uniform("mat3", "placed", new Matrix3(), (d, v) =>
      get(d) ? v.copy(get(d)!.matrixOf(0)) : v,
    );
    shading.functions.push(/* glsl */ `
      Shown ${name}() {
        Shown o = nothing();
        bool outside = false;
        vec2 v = ${attribute}, a = ${attribute}Dx, b = ${attribute}Dy;
        vec3 growS = a.x * coatX + b.x * coatY, growT = a.y * coatX + b.y * coatY;
        vec2 st = (${placed} * vec3(v, 1.0)).xy, ax = mat2(${placed}) * a, ay = mat2(${placed}) * b;
        vec3 S = unit(${placed}[0][0] * growS + ${placed}[1][0] * growT);
        vec3 T = unit(${placed}[0][1] * growS + ${placed}[1][1] * growT);
        float w = v.x < -1e20 ? 0.0 : 1.0;
        ${kept}
        ${show(main)(0)}
        ${frame ? "coatOutside = outside;" : ""}
        return o;
      }`);
    return name;
  }
  return triplanarCode(shading, first, get, materials, name, show, kept, frame);
}

/** Three sheets blended by the direction in which the surface looks. */
function triplanarCode(
  shading: Shading,
  first: Laid,
  get: (drawn: Drawn) => Laid | null,
  materials: Record<string, Material>,
  name: string,
  show: (material: Material) => (axis: number) => string,
  kept: string,
  frame: boolean,
): string {
  const kind = (laid: Laid | null) => (laid?.projection.kind === "triplanar" ? laid.projection : null);
  const inverse = shading.uniform("mat4", "toDatum", new Matrix4(), (d, v) => {
    const datum = get(d)?.datum;
    return datum ? v.copy(toDatum(datum, d.viewOrigin)) : v;
  });
  const blend = shading.uniform("float", "blend", 0.3, (d, v) => kind(get(d))?.blend ?? v);
  const mirrored = shading.uniform("bool", "mirrored", false, (d) => kind(get(d))?.backs === "mirrored");
  const own = kind(first)!.materials;
  const blocks = (["x", "y", "z"] as const).map((axis, k) => {
    const key = own[axis] ?? first.material;
    const sheet = shading.uniform("mat3", "axisSheet", new Matrix3(), (d, v) => {
      const laid = get(d);
      return laid ? v.copy(laid.matrixOf(k)) : v;
    });
    const strongest = ["n.x >= max(n.y, n.z)", "n.y > n.x && n.y >= n.z", "n.z > max(n.x, n.y)"][k]!;
    return /* glsl */ `{
      vec3 along, up;
      boxSide(${k}, dn, ${mirrored}, along, up);
      mat3 sheet = ${sheet};
      vec2 st = (sheet * vec3(dot(p, along), dot(p, up), 1.0)).xy;
      vec2 ax = mat2(sheet) * vec2(dot(px, along), dot(px, up)), ay = mat2(sheet) * vec2(dot(py, along), dot(py, up));
      vec3 S = back * unit(sheet[0][0] * along + sheet[1][0] * up), T = back * unit(sheet[0][1] * along + sheet[1][1] * up);
      float w = weight[${k}];
      bool outside = false;
      ${kept ? `if (${strongest}) { ${kept} }` : ""}
      ${show(materials[key] ?? materials[first.material]!)(k)}
      ${frame ? `if (${strongest}) coatOutside = outside;` : ""}
    }`;
  });
  shading.functions.push(/* glsl */ `
    Shown ${name}() {
      Shown o = nothing();
      mat3 turned = mat3(${inverse}), back = transpose(turned);
      vec3 p = (${inverse} * vec4(vCoatPlace, 1.0)).xyz, px = turned * coatDx, py = turned * coatDy;
      vec3 dn = turned * coatN, n = abs(dn);
      vec3 raised = pow(n / max(max(n.x, n.y), n.z), vec3(1.0 / max(${blend}, 0.03)));
      vec3 weight = raised / (raised.x + raised.y + raised.z);
      ${blocks.join("\n")}
      return o;
    }`);
  return name;
}

/** The box's rules: in which direction of the datum s and t run on the side that an axis looks out of. */
export const BOX_SIDES = /* glsl */ `
  void boxSide(int axis, vec3 n, bool mirrored, out vec3 along, out vec3 up) {
    float away = (!mirrored && n[axis] < 0.0) ? -1.0 : 1.0;
    along = axis == 0 ? vec3(0.0, away, 0.0) : axis == 1 ? vec3(-away, 0.0, 0.0) : vec3(1.0, 0.0, 0.0);
    up = axis == 2 ? vec3(0.0, away, 0.0) : vec3(0.0, 0.0, 1.0);
  }
`;

/** From the view's coordinates (mm from its origin) to the datum's. */
function toDatum(datum: Datum, viewOrigin: Triple): Matrix4 {
  return datumMatrix(datum)
    .invert()
    .multiply(new Matrix4().makeTranslation(...viewOrigin));
}
