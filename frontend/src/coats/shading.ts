/** A shader put together piece by piece, with the numbers that it is given. */

import type { IUniform, Texture } from "three";

import type { Finish, GridState, Material, Triple } from "../api/wire.gen";

/** The lines that the masks of a finish are near to, as a texture, and their grids. */
export interface LinesTexture {
  key: string;
  texture: Texture;
  grids: GridState[];
}

/** What a row is drawn as just now. laid: as its corners were laid; now: as it is under the hand. */
export interface Drawn {
  laid: Finish;
  now: Finish;
  materials: Record<string, Material>;
  viewOrigin: Triple;
  lines: LinesTexture | null;
}

type Type = "float" | "int" | "bool" | "vec2" | "vec3" | "ivec3" | "mat3" | "mat4";

export class Shading {
  readonly uniforms: Record<string, IUniform> = {};
  readonly declared: string[] = [];
  readonly functions: string[] = [];
  /** The sheets of its own layings, by their numbers: an attribute each. */
  readonly sheets = new Set<number>();
  private readonly samplers = new Map<Texture, string>();
  private readonly updates: ((drawn: Drawn) => void)[] = [];
  private count = 0;

  /** A name that no other piece has. */
  name(stem: string) {
    return `${stem}${this.count++}`;
  }

  /** A number that follows what is drawn. */
  uniform<T>(type: Type, stem: string, value: T, follow?: (drawn: Drawn, value: T) => T): string {
    const name = this.name(stem);
    const uniform = { value };
    this.uniforms[name] = uniform;
    this.declared.push(`uniform ${type} ${name};`);
    if (follow) this.updates.push((drawn) => (uniform.value = follow(drawn, uniform.value)));
    return name;
  }

  /** most: how many images there is room for; kept: how many of those are for colors that are still to come. */
  constructor(
    private readonly most: number,
    private kept: number,
  ) {}

  /**
   * An image; the same one takes one place however often it is asked for. Null where there is no room for it: colors have
   * room before anything else.
   */
  sampler(image: Texture, color: boolean): string | null {
    if (color && this.kept > 0) this.kept--;
    const held = this.samplers.get(image);
    if (held) return held;
    if (this.samplers.size + (color ? 0 : this.kept) >= this.most) return null;
    const name = this.name("image");
    this.samplers.set(image, name);
    this.uniforms[name] = { value: image };
    this.declared.push(`uniform sampler2D ${name};`);
    return name;
  }

  follow(update: (drawn: Drawn) => void) {
    this.updates.push(update);
  }

  /** Sets every number to what is drawn now. */
  place(drawn: Drawn) {
    this.updates.forEach((update) => update(drawn));
  }
}
