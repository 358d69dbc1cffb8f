/** Masks in the shader: each an expression from 0 to 1 at the point; their numbers follow the hand. */

import { Vector3 } from "three";

import type { Finish, GridState, Mask, Triple } from "../api/wire.gen";
import { nearMasks } from "./laid";
import type { Drawn, Shading } from "./shading";

/** Where in a finish a mask stands now; null where it stands no more. */
type Find = (finish: Finish) => Mask | null;

type Get<M> = (drawn: Drawn) => M | null;

/** What an image shows at the point: the expression of a channel by the number of its sheet. */
export type ImageCode = (row: number, channel: string) => string;

/** A place counted from the view's origin. */
const near = (d: Drawn, place: Triple) => new Vector3(...place).sub(new Vector3(...d.viewOrigin));

/** Puts the masks of one coat into words of the shader. */
export class MaskCode {
  constructor(
    private readonly shading: Shading,
    private readonly finish: Finish,
    private readonly image: ImageCode,
    /** The number of the next sheet that a mask samples. */
    private row: number,
  ) {}

  of(mask: Mask, find: Find): string {
    const get: Get<Mask> = ({ now }) => find(now);
    if ("every" in mask) return this.all(mask.every, "every", find, "1.0", (a, b) => `(${a} * ${b})`);
    if ("any" in mask) return this.all(mask.any, "any", find, "0.0", (a, b) => `max(${a}, ${b})`);
    if ("not" in mask) {
      const inner: Find = (finish) => {
        const held = find(finish);
        return held && "not" in held ? held.not : null;
      };
      return `(1.0 - ${this.of(mask.not, inner)})`;
    }
    if ("fade" in mask) return this.fade(mask.fade.ease, get as Get<typeof mask>);
    if ("fade_round" in mask) return this.fadeRound(mask.fade_round.ease, get as Get<typeof mask>);
    if ("fade_about" in mask) return this.fadeAbout(mask.fade_about.ease, get as Get<typeof mask>);
    if ("band" in mask) return this.band(get as Get<typeof mask>);
    if ("facing" in mask) return this.facing(get as Get<typeof mask>);
    if ("noise" in mask) return this.noise(get as Get<typeof mask>);
    if ("image" in mask) return this.channel(mask.image.channel, get as Get<typeof mask>);
    return this.lines(mask);
  }

  private all(
    masks: Mask[],
    key: "every" | "any",
    find: Find,
    none: string,
    join: (a: string, b: string) => string,
  ): string {
    const codes = masks.map((inner, at) =>
      this.of(inner, (finish) => {
        const held = find(finish) as Partial<Record<typeof key, Mask[]>> | null;
        return held?.[key]?.[at] ?? null;
      }),
    );
    return codes.reduceRight<string | null>((rest, code) => (rest ? join(code, rest) : code), null) ?? none;
  }

  private place<M extends Mask>(get: Get<M>, of: (mask: M) => Triple) {
    return this.shading.uniform("vec3", "place", new Vector3(), (d, v) => {
      const mask = get(d);
      return mask ? v.copy(near(d, of(mask))) : v;
    });
  }

  private vector<M extends Mask>(get: Get<M>, of: (mask: M) => Triple, made = (v: Vector3) => v.normalize()) {
    return this.shading.uniform("vec3", "along", new Vector3(), (d, v) => {
      const mask = get(d);
      return mask ? made(v.set(...of(mask))) : v;
    });
  }

  private number<M extends Mask>(get: Get<M>, of: (mask: M, d: Drawn) => number) {
    return this.shading.uniform("float", "number", 0, (d, v) => {
      const mask = get(d);
      return mask ? of(mask, d) : v;
    });
  }

  private fade(ease: string, get: Get<Extract<Mask, { fade: unknown }>>): string {
    const from = this.place(get, (m) => m.fade.from_mm);
    const way = this.vector(
      get,
      ({ fade: { from_mm: a, to_mm: b } }) => [b[0] - a[0], b[1] - a[1], b[2] - a[2]],
      (v) => v.divideScalar(v.lengthSq() || 1),
    );
    return `easedTo(dot(vCoatPlace - ${from}, ${way}), ${ease === "smooth"})`;
  }

  private fadeRound(ease: string, get: Get<Extract<Mask, { fade_round: unknown }>>): string {
    const centre = this.place(get, (m) => m.fade_round.centre_mm);
    const start = this.number(get, (m) => m.fade_round.radii_mm[0]);
    const end = this.number(get, (m) => m.fade_round.radii_mm[1]);
    return `easedTo((distance(vCoatPlace, ${centre}) - ${start}) / (${end} - ${start}), ${ease === "smooth"})`;
  }

  private fadeAbout(ease: string, get: Get<Extract<Mask, { fade_about: unknown }>>): string {
    const origin = this.place(get, (m) => m.fade_about.origin_mm);
    const axis = this.vector(get, (m) => m.fade_about.axis);
    const start = this.number(get, (m) => m.fade_about.radii_mm[0]);
    const end = this.number(get, (m) => m.fade_about.radii_mm[1]);
    const away = `length(cross(vCoatPlace - ${origin}, ${axis}))`;
    return `easedTo((${away} - ${start}) / (${end} - ${start}), ${ease === "smooth"})`;
  }

  private band(get: Get<Extract<Mask, { band: unknown }>>): string {
    const along = this.vector(get, (m) => m.band.direction);
    const shift = (m: Extract<Mask, { band: unknown }>, d: Drawn) =>
      new Vector3(...m.band.direction).normalize().dot(new Vector3(...d.viewOrigin));
    const from = this.number(get, (m, d) => m.band.from_mm - shift(m, d));
    const to = this.number(get, (m, d) => m.band.to_mm - shift(m, d));
    const soft = this.number(get, (m) => m.band.soft_mm);
    const at = `dot(vCoatPlace, ${along})`;
    return `fallen(max(${from} - ${at}, ${at} - ${to}), ${soft})`;
  }

  private facing(get: Get<Extract<Mask, { facing: unknown }>>): string {
    const along = this.vector(get, (m) => m.facing.direction);
    const within = this.number(get, (m) => m.facing.within_deg);
    const soft = this.number(get, (m) => m.facing.soft_deg);
    return `fallen(degrees(acos(clamp(dot(coatN, ${along}), -1.0, 1.0))) - ${within}, ${soft})`;
  }

  private noise(get: Get<Extract<Mask, { noise: unknown }>>): string {
    const { shading } = this;
    const size = this.number(get, (m) => m.noise.size_mm);
    // The view's origin in cells of the noise: the whole ones, and what is beyond them.
    const cells = (d: Drawn, part: (v: number) => number) => {
      const mask = get(d);
      return mask ? d.viewOrigin.map((mm) => part(mm / mask.noise.size_mm)) : [0, 0, 0];
    };
    const beyond = shading.uniform("vec3", "beyond", new Vector3(), (d, v) =>
      v.fromArray(cells(d, (c) => c - Math.floor(c))),
    );
    const whole = shading.uniform("ivec3", "whole", [0, 0, 0], (d) => cells(d, Math.floor));
    const seed = shading.uniform("int", "seed", 1, (d, v) => get(d)?.noise.seed ?? v);
    const octaves = shading.uniform("int", "octaves", 1, (d, v) => get(d)?.noise.octaves ?? v);
    const value = `octavesAt(vCoatPlace / ${size} + ${beyond}, ${whole}, ${seed}, ${octaves})`;
    return `betweenOf(${value}, ${this.number(get, (m) => m.noise.low)}, ${this.number(get, (m) => m.noise.high)})`;
  }

  private channel(channel: string, get: Get<Extract<Mask, { image: unknown }>>): string {
    const shown = this.image(this.row++, channel);
    return `betweenOf(${shown}, ${this.number(get, (m) => m.image.low)}, ${this.number(get, (m) => m.image.high)})`;
  }

  /** The lines of a mask come from the server, sorted; what it says of itself has gone into them. */
  private lines(mask: Mask): string {
    const at = nearMasks(this.finish).indexOf(JSON.stringify(mask));
    const grid = (d: Drawn): GridState | undefined => d.lines?.grids[at];
    const origin = this.shading.uniform("vec3", "gridFrom", new Vector3(), (d, v) =>
      v.set(...(grid(d)?.origin ?? [0, 0, 0])),
    );
    const cell = this.shading.uniform("float", "gridCell", 1, (d) => grid(d)?.cell_mm ?? 1);
    const counts = this.shading.uniform("ivec3", "gridCounts", [0, 0, 0], (d) => grid(d)?.counts ?? [0, 0, 0]);
    const soft = this.shading.uniform("float", "gridSoft", 0, (d) => grid(d)?.soft_mm ?? 0);
    const first = this.shading.uniform("ivec3", "gridFirst", [0, 0, 0], (d) => {
      const held = grid(d);
      return held ? [held.cells, held.rows, held.lines] : [0, 0, 0];
    });
    return `nearLines(Grid(${origin}, ${cell}, ${counts}, ${soft}, ${first}), vCoatPlace, coatN)`;
  }
}
