/** The materials of the model's groups: bare faces first, then one a row of the schedule. */

import { useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import { MeshBasicMaterial, type Material as ThreeMaterial } from "three";

import { useLibrary } from "../api/project";
import type { Finish, Material, Project } from "../api/wire.gen";
import { lookOf } from "./registry";
import { plainMaterial, PLAIN, RowSurface, sourceSurface, surfaceSignature } from "./surfaces";
import { drawnOn, type Side } from "../model/split";
import type { Laid } from "../model/useLaying";
import { useHand, withLive } from "../state/hand";
import { useDesk } from "../state/desk";
import { useLook } from "../state/look";
import type { Look } from "../state/look";

/** The other material of a comparison, as the finish would lay it: its grain stays where it is on the face. */
function other(finish: Finish, was: Material | undefined, material: Material): Finish {
  const turn_deg =
    finish.grain_deg === null && finish.grain.along === "sheet"
      ? finish.turn_deg + (was?.grain_deg ?? 0) - (material.grain_deg ?? 0)
      : finish.turn_deg;
  return { ...finish, material: material.key, turn_deg };
}

interface Surfaces {
  /** One a group of the model's geometry. */
  groups: ThreeMaterial[];
  /** The same, with the other material of a comparison in its place and nothing in the others'. */
  beyond: ThreeMaterial[] | null;
}

const NONE = new Map<string, Finish>();

const NOTHING = new MeshBasicMaterial({ visible: false });

/** Rows whose look is still the same keep their surface; most edits only move the sheet. */
export function useSurfaces(project: Project, shown: Laid | null, look: Look, square: number): Surfaces {
  const laid = shown?.finishes ?? NONE;
  const { invalidate } = useThree();
  const { draws, paint, brings } = lookOf(look);
  const live = useHand((s) => s.live);
  const channel = useLook((s) => s.channel);
  const compare = useLook((s) => s.compare);
  const coat = useDesk((s) => s.coat);
  const { data: library = [] } = useLibrary();
  const rival = compare && (project.materials[compare.material] ?? library.find((m) => m.key === compare.material));
  const kept = useRef(new Map<string, RowSurface>());
  const toned = useMemo(() => plainMaterial("#ffffff", true), []);
  const plain = useMemo(() => plainMaterial(PLAIN), []);
  const { sources, mesh } = project.model;
  // Bare faces show what they came with where materials are looked at, and nothing where measures are.
  const brought = useMemo(
    () => sources.map((s) => (brings ? sourceSurface(s, paint.lit, () => invalidate()) : plain)),
    // The sources change with the model alone.
    // oxlint-disable-next-line react/exhaustive-deps
    [mesh, sources.length, brings, paint.lit, plain, invalidate],
  );
  useEffect(() => () => brought.forEach((material) => material !== plain && material.dispose()), [brought, plain]);

  const rows = useMemo(() => {
    if (draws !== "pattern") return { groups: [], beyond: null };
    const before = kept.current;
    const after = new Map<string, RowSurface>();
    const materials = rival ? { ...project.materials, [rival.key]: rival } : project.materials;
    const make = (key: string, finish: Finish, now: Finish, side: Side | null) => {
      const open = coat?.finish === finish.key ? coat.row : null;
      const signature = `${surfaceSignature(now, materials, paint, square, channel, open)} ${side}`;
      const held = before.get(key);
      const surface =
        held?.signature === signature
          ? held
          : new RowSurface(signature, now, materials, paint, square, channel, () => invalidate(), open);
      if (held !== surface && side) drawnOn(side, surface.material);
      // Until the corners of a new state have come, the old ones are shown as what they were laid by.
      const lines = shown?.lines.get(finish.key) ?? null;
      surface.place(laid.get(finish.key) ?? finish, now, materials, project.model.view_origin_mm, lines);
      after.set(key, surface);
      return surface;
    };
    const beyond: { row: number; surface: RowSurface }[] = [];
    const made = project.finishes.map((finish, row) => {
      const now = withLive(finish, live);
      if (!rival || compare?.finish !== finish.key) return make(finish.key, finish, now, null);
      const its = other(now, project.materials[finish.material], rival);
      beyond.push({ row, surface: make(`${finish.key} beyond`, finish, its, "beyond") });
      return make(finish.key, finish, now, "before");
    });
    before.forEach((surface, key) => {
      if (after.get(key) !== surface) surface.dispose();
    });
    kept.current = after;
    const plainly = (key: string) => paint.images === "mask" && coat?.finish !== key;
    return {
      groups: made.map((surface, row) => (plainly(project.finishes[row]!.key) ? plain : surface.material)),
      beyond: beyond[0] ?? null,
    };
  }, [project, shown, laid, live, draws, paint, square, channel, rival, compare?.finish, coat, plain, invalidate]);

  useEffect(() => {
    const surfaces = kept.current;
    return () => {
      surfaces.forEach((surface) => surface.dispose());
      toned.dispose();
      plain.dispose();
    };
  }, [toned, plain]);

  useEffect(() => invalidate(), [live, invalidate]);

  return useMemo(() => {
    const one = draws === "tone" ? toned : plain;
    if (draws === "source") return { groups: [plain, ...brought], beyond: null };
    if (draws !== "pattern") {
      return { groups: [one, ...project.finishes.map(() => one), ...brought.map(() => one)], beyond: null };
    }
    const { beyond } = rows;
    const others = beyond && [
      NOTHING,
      ...rows.groups.map((_, row) => (row === beyond.row ? beyond.surface.material : NOTHING)),
      ...brought.map(() => NOTHING),
    ];
    return { groups: [plain, ...rows.groups, ...brought], beyond: others };
  }, [draws, rows, toned, plain, brought, project.finishes]);
}
