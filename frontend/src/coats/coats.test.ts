import { Texture } from "three";
import { expect, test } from "vitest";

import type { Coat, Mask } from "../api/wire.gen";
import { plainFinish } from "../model/plainFinish";
import { isCoated, structureOf } from "./coated";
import { gripsOf } from "./grips";
import { leavesOf, masksIn, nearMasks, sheetsOver } from "./laid";
import { Shading } from "./shading";

const FADE: Mask = { fade: { from_mm: [0, 0, 400], to_mm: [0, 0, 1200], ease: "linear" } };
const SEAMS: Mask = { seams: { within_mm: 40, soft_mm: 20 } };
const IMAGE = {
  image: {
    material: "oak", channel: "height", low: 0, high: 1, projection: null, datum: null, turn_deg: 0, offset_mm: [0, 0],
    scale: [1, 1], tile: true, cells: null,
  },
} as Mask; // prettier-ignore

const coat = (of: Partial<Coat>): Coat => ({
  name: "c", on: true, material: null, where: null, strength: 1, tint: "#808080", roughness: null, metallic: null,
  channels: { base_color: "mix", normal: null, roughness: "mix", metallic: "mix", height: null, occlusion: "mix" },
  projection: null, datum: null, turn_deg: 0, offset_mm: [0, 0], scale: [1, 1], tile: true, cells: null,
  ...of,
}); // prettier-ignore

const finish = (...coats: Coat[]) => plainFinish("brick", { coats });

test("sheets are counted as the server counts them: a coat's own, then those of its masks, in depth", () => {
  const where: Mask = { every: [FADE, { not: { any: [IMAGE, SEAMS] } }] };
  const row = finish(coat({ where }), coat({ material: "moss", where: IMAGE }));
  expect(sheetsOver(row).map((sheet) => sheet.material)).toEqual(["oak", "moss", "oak"]);
  expect(masksIn(where).map((mask) => Object.keys(mask)[0])).toEqual(["every", "fade", "not", "any", "image", "seams"]);
});

test("the lines of masks that are alike are counted once", () => {
  const other: Mask = { seams: { within_mm: 50, soft_mm: 20 } };
  expect(nearMasks(finish(coat({ where: SEAMS }), coat({ where: { every: [SEAMS, other] } })))).toHaveLength(2);
});

test("numbers follow the hand without a new shader; what is stated otherwise needs one", () => {
  const before = structureOf(finish(coat({ where: FADE, strength: 0.5, tint: "#112233" })));
  const moved: Mask = { fade: { from_mm: [0, 0, 900], to_mm: [5, 5, 1200], ease: "linear" } };
  expect(structureOf(finish(coat({ where: moved, strength: 0.9, tint: "#ffffff", name: "other" })))).toBe(before);
  const softly: Mask = { fade: { from_mm: [0, 0, 400], to_mm: [0, 0, 1200], ease: "smooth" } };
  for (const of of [{ where: softly }, { where: SEAMS }, { tint: null }, { roughness: 0.4 }, { on: false }]) {
    expect(structureOf(finish(coat({ where: FADE, ...of })))).not.toBe(before);
  }
  expect(isCoated(finish())).toBe(false);
});

test("one mask among others is put in its place", () => {
  const where: Mask = { every: [FADE, { not: { any: [SEAMS, IMAGE] } }] };
  const leaf = leavesOf(where).find(({ mask }) => "seams" in mask)!;
  const other: Mask = { seams: { within_mm: 1, soft_mm: 2 } };
  expect(leaf.put(other)).toEqual({ every: [FADE, { not: { any: [other, IMAGE] } }] });
});

test("the ends of an upright fade are told by their heights, and slide along it", () => {
  const { grips } = gripsOf(FADE, [0, 0, 0], [1, 0, 0])!;
  expect(grips.map((grip) => [grip.value, grip.text(grip.value)])).toEqual([
    [400, "nothing at z 400"],
    [1200, "whole at z 1 200"],
  ]);
  expect(grips[0]!.put(250)).toEqual({ fade: { from_mm: [0, 0, 250], to_mm: [0, 0, 1200], ease: "linear" } });
  const down: Mask = { fade: { from_mm: [7, 8, 1200], to_mm: [7, 8, 400], ease: "linear" } };
  expect(gripsOf(down, [0, 0, 0], [1, 0, 0])!.grips[1]!.put(100)).toMatchObject({ fade: { to_mm: [7, 8, 100] } });
});

test("a slanted fade is told by its length, a distance by itself, a band keeps its order", () => {
  const slanted: Mask = { fade: { from_mm: [0, 0, 0], to_mm: [300, 400, 0], ease: "linear" } };
  const [from, to] = gripsOf(slanted, [0, 0, 0], [1, 0, 0])!.grips;
  expect([from!.value, to!.value]).toEqual([500, 500]);
  expect(to!.put(1000)).toMatchObject({ fade: { to_mm: [600, 800, 0] } });
  expect(from!.put(1000)).toMatchObject({ fade: { from_mm: [-300, -400, 0] } });
  const round: Mask = { fade_round: { centre_mm: [10, 0, 0], radii_mm: [300, 100], ease: "linear" } };
  expect(gripsOf(round, [0, 0, 0], [-1, 0, 0])!.grips[1]!.put(50)).toMatchObject({
    fade_round: { radii_mm: [50, 100] },
  });
  const band: Mask = { band: { direction: [0, 0, 1], from_mm: 100, to_mm: 300, soft_mm: 0 } };
  expect(gripsOf(band, [5, 5, 5], [1, 0, 0])!.grips[0]!.put(900)).toMatchObject({ band: { from_mm: 300 } });
});

test("of more images than a shader takes, colors have room first, whatever comes before them", () => {
  const shading = new Shading(5, 3);
  const images = Array.from({ length: 8 }, () => new Texture());
  const [base, bumps, gloss, coat, more, last] = images as [Texture, Texture, Texture, Texture, Texture, Texture];
  expect(shading.sampler(base, true)).not.toBeNull();
  expect(shading.sampler(bumps, false)).not.toBeNull();
  expect(shading.sampler(gloss, false)).not.toBeNull();
  expect(shading.sampler(more, false)).toBeNull();
  expect(shading.sampler(coat, true)).not.toBeNull();
  expect(shading.sampler(last, true)).not.toBeNull();
  expect(shading.sampler(base, true)).toBe(shading.sampler(base, true));
  expect(shading.declared).toHaveLength(5);
});

test("the direction that a coat faces is turned by the tip of its arrow, and snaps to an axis that is near", () => {
  const mask: Mask = { facing: { direction: [0, 0, 1], within_deg: 30, soft_deg: 20 } };
  const { grips, lines } = gripsOf(mask, [10, 20, 30], [1, 0, 0], 500)!;
  expect(grips[0]!.at).toEqual([10, 20, 530]);
  expect(lines).toEqual([
    [
      [10, 20, 30],
      [10, 20, 530],
    ],
  ]);
  const { about, to } = grips[0]!.turned!;
  expect(about).toEqual([10, 20, 30]);
  expect(to([0, -40, 2], true)).toEqual({
    mask: { facing: { direction: [0, -1, 0], within_deg: 30, soft_deg: 20 } },
    direction: [0, -1, 0],
    axis: "−y axis",
  });
  expect(to([3, 0, 4], true).direction).toEqual([0.6, 0, 0.8]);
  expect(to([0, 1, 20], false).axis).toBeUndefined();
});
