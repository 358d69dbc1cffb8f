/** What of a mask is taken hold of in the view: places, and distances along a line. */

import { Vector3 } from "three";

import type { Mask, Triple } from "../api/wire.gen";

export interface MaskGrip {
  label: string;
  /** Where it stands, in mm of the model. */
  at: Triple;
  /** It is moved along this line. */
  along: Vector3;
  /** What is written beside it. */
  text: (mm: number) => string;
  /** The number that it stands for, mm, and whether it grows (1) or shrinks (-1) along the line. */
  value: number;
  sign: number;
  /** The mask with another number. */
  put: (mm: number) => Mask;
  /** The mask with this place on the surface, where it can be put anywhere. */
  place?: (at: Triple) => Mask;
  /** A direction that the hand turns about a place: the mask in another, snapped to an axis that is near. */
  turned?: { about: Triple; to: (way: Triple, snapped: boolean) => Turned };
}

export interface Turned {
  mask: Mask;
  direction: Triple;
  /** What it snapped to. */
  axis?: string;
}

export interface DrawnMask {
  grips: MaskGrip[];
  /** Lines between them. */
  lines: Triple[][];
}

const vec = (t: Triple) => new Vector3(...t);
const triple = (v: Vector3): Triple => [round(v.x), round(v.y), round(v.z)];
const round = (v: number) => Math.round(v * 1000) / 1000;
const AXES = ["x", "y", "z"] as const;

/** A number on a line as it is told: the coordinate of the axis that it runs along, or the length from a place. */
function told(along: Vector3, at: Triple, from: Triple) {
  const axis = AXES.findIndex((_, k) => Math.abs(along.getComponent(k)) > 1 - 1e-9);
  if (axis >= 0) {
    const sign = Math.sign(along.getComponent(axis));
    return { value: at[axis]!, name: AXES[axis]!, sign, move: (mm: number) => sign * (mm - at[axis]!) };
  }
  const length = vec(at).sub(vec(from)).length();
  return { value: length, name: "", sign: 1, move: (mm: number) => mm - length };
}

const number = (mm: number) => Math.round(mm).toLocaleString("en").replaceAll(",", " ");

/** A direction this near to an axis is meant to be it. */
const SNAPS_COSINE = Math.cos((6 * Math.PI) / 180);

/** An arrow from the middle of the faces, so many mm long, turned by its tip. */
function arrow(direction: Triple, middle: Triple, reach: number, put: (direction: Triple) => Mask): DrawnMask {
  const along = vec(direction).normalize();
  const tip = triple(vec(middle).addScaledVector(along, reach));
  const to = (towards: Triple, snapped: boolean): Turned => {
    const way = vec(towards).normalize();
    const k = AXES.findIndex((_, axis) => Math.abs(way.getComponent(axis)) > SNAPS_COSINE);
    if (snapped && k >= 0) {
      const sign = Math.sign(way.getComponent(k));
      way.set(0, 0, 0).setComponent(k, sign);
      return { mask: put(triple(way)), direction: triple(way), axis: `${sign < 0 ? "−" : ""}${AXES[k]!} axis` };
    }
    return { mask: put(triple(way)), direction: triple(way) };
  };
  const grip: MaskGrip = {
    label: "The direction that it faces",
    at: tip,
    along,
    value: 0,
    sign: 1,
    text: () => "faces here",
    put: () => put(direction),
    turned: { about: middle, to },
  };
  return { grips: [grip], lines: [[middle, tip]] };
}

/**
 * What of a mask can be taken hold of; middle: of the faces that it lies on. towards: to the right on the screen. reach: how
 * long an arrow is, mm.
 */
export function gripsOf(mask: Mask, middle: Triple, towards: Triple, reach = 1000): DrawnMask | null {
  if ("facing" in mask)
    return arrow(mask.facing.direction, middle, reach, (direction) => ({ facing: { ...mask.facing, direction } }));
  if ("fade" in mask) {
    const { from_mm, to_mm } = mask.fade;
    const along = vec(to_mm).sub(vec(from_mm)).normalize();
    const end = (key: "from_mm" | "to_mm", label: string): MaskGrip => {
      const at = mask.fade[key];
      const other = key === "from_mm" ? to_mm : from_mm;
      const outward = key === "from_mm" && !isAxis(along) ? along.clone().negate() : along;
      const of = told(outward, at, other);
      const put = (place: Triple): Mask => ({ fade: { ...mask.fade, [key]: place } });
      return {
        label,
        at,
        along: outward,
        value: of.value,
        sign: of.sign,
        text: (mm) => `${key === "from_mm" ? "nothing" : "whole"} at ${of.name && `${of.name} `}${number(mm)}`,
        put: (mm) => put(triple(vec(at).addScaledVector(outward, of.move(mm)))),
        place: put,
      };
    };
    const grips = [end("from_mm", "Where the fade is nothing"), end("to_mm", "Where the fade is whole")];
    return { grips, lines: [[from_mm, to_mm]] };
  }
  if ("band" in mask) {
    const along = vec(mask.band.direction).normalize();
    const base = vec(middle).addScaledVector(along, -vec(middle).dot(along));
    const at = (mm: number) => triple(base.clone().addScaledVector(along, mm));
    const end = (key: "from_mm" | "to_mm", label: string): MaskGrip => ({
      label,
      at: at(mask.band[key]),
      along,
      value: mask.band[key],
      sign: 1,
      text: (mm) => `${key === "from_mm" ? "from" : "to"} ${number(mm)}`,
      put: (mm) => {
        const limit = key === "from_mm" ? Math.min(mm, mask.band.to_mm) : Math.max(mm, mask.band.from_mm);
        return { band: { ...mask.band, [key]: round(limit) } };
      },
    });
    const grips = [end("from_mm", "Where the band begins"), end("to_mm", "Where the band ends")];
    return { grips, lines: [[grips[0]!.at, grips[1]!.at]] };
  }
  if ("fade_round" in mask) return radial(mask, "fade_round", mask.fade_round.centre_mm, vec(towards));
  if ("fade_about" in mask) {
    const axis = vec(mask.fade_about.axis).normalize();
    const aside = vec(towards).addScaledVector(axis, -vec(towards).dot(axis));
    return radial(mask, "fade_about", mask.fade_about.origin_mm, aside.lengthSq() > 1e-6 ? aside : vec([1, 0, 0]));
  }
  return null;
}

const isAxis = (v: Vector3) => AXES.some((_, k) => Math.abs(v.getComponent(k)) > 1 - 1e-9);

type Radial = "fade_round" | "fade_about";

function radial(mask: Mask, key: Radial, centre: Triple, way: Vector3): DrawnMask {
  const stated = (mask as unknown as Record<Radial, { radii_mm: [number, number] }>)[key];
  const along = way.clone().normalize();
  const place = (mm: number) => triple(vec(centre).addScaledVector(along, mm));
  const put = (of: object) => ({ [key]: { ...stated, ...of } }) as unknown as Mask;
  const end = (k: 0 | 1, label: string): MaskGrip => ({
    label,
    at: place(stated.radii_mm[k]),
    along,
    value: stated.radii_mm[k],
    sign: 1,
    text: (mm) => `${k ? "whole" : "nothing"} at ${number(mm)}`,
    put: (mm) => {
      const radii = [...stated.radii_mm];
      radii[k] = round(Math.max(mm, 0));
      return radii[0] === radii[1] ? mask : put({ radii_mm: radii });
    },
  });
  const grips = [end(0, "Where the fade is nothing"), end(1, "Where the fade is whole")];
  const moved = key === "fade_round" ? "centre_mm" : "origin_mm";
  const middle: MaskGrip = {
    label: "The middle of the fade",
    at: centre,
    along,
    value: 0,
    sign: 1,
    text: () => "",
    put: (mm) => put({ [moved]: place(mm) }),
    place: (at) => put({ [moved]: at }),
  };
  const far = Math.max(...stated.radii_mm);
  return { grips: [middle, ...grips], lines: [[centre, place(far)]] };
}
