/** The model's arrays in the browser, and the index order that gives each finish its own draw. */

import { useQuery } from "@tanstack/react-query";
import { BufferAttribute, BufferGeometry } from "three";
import { MeshBVH } from "three-mesh-bvh";

import { getBytes, getJson } from "../api/client";
import { readPacket } from "../api/packet";
import type { Framed, Project } from "../api/wire.gen";

/** Edges: two ends (x, y, z) each, and the two faces at its sides (twice the same at an open edge). */
export interface EdgeLines {
  ends: Float32Array;
  faces: Uint32Array;
}

/** Whether a bit mask holds a face; an empty mask holds none. */
export const held = (mask: Uint8Array, face: number) => ((mask[face >> 3] ?? 0) >> (face & 7)) & 1;

export interface ModelArrays {
  parts: string[];
  position: BufferAttribute;
  normal: BufferAttribute;
  /** Triangles in file order: corner ids, three a triangle. */
  index: Uint32Array;
  triangleFace: Uint32Array;
  faceStart: Uint32Array;
  facePart: Uint32Array;
  /** The material that each face came with, -1 where none. */
  faceSource: Int16Array;
  /** The texture coordinates that came with the model, set by set, v up. */
  uvSets: Float32Array[];
  lines: EdgeLines;
  /** Answers which triangle a ray meets, over the triangles in file order. */
  bvh: MeshBVH;
}

export function useModelArrays(project: Project) {
  return useQuery({
    queryKey: ["geometry", project.id, project.model.mesh],
    queryFn: async () => readModel(await getBytes(`/projects/${project.id}/geometry`)),
    staleTime: Infinity,
    gcTime: 60_000,
  });
}

function readModel(buffer: ArrayBuffer): ModelArrays {
  const packet = readPacket<{ parts: string[]; uv_sets: number }>(buffer);
  const position = new BufferAttribute(packet.floats("position"), 3);
  const index = packet.ids("index");
  const picking = new BufferGeometry();
  picking.setAttribute("position", position);
  picking.setIndex(new BufferAttribute(index, 1));
  return {
    parts: packet.header.parts,
    position,
    normal: new BufferAttribute(packet.shorts("normal"), 3, true),
    index,
    triangleFace: packet.ids("triangle_face"),
    faceStart: packet.ids("face_start"),
    facePart: packet.ids("face_part"),
    faceSource: packet.shorts("face_source"),
    uvSets: Array.from({ length: packet.header.uv_sets }, (_, k) => packet.floats(`uv_${k}`)),
    lines: { ends: packet.floats("lines"), faces: packet.ids("line_faces") },
    // Indirect: the triangles keep their order, so that a hit names the face.
    bvh: new MeshBVH(picking, { indirect: true }),
  };
}

/** The parts that the opening view shows; asked for once, since a view that moved by itself would confuse. */
export function useFramedParts(project: Project) {
  return useQuery({
    queryKey: ["framed", project.id, project.model.mesh],
    queryFn: () => getJson<Framed>(`/projects/${project.id}/framed`),
    staleTime: Infinity,
    gcTime: 0,
  });
}

/** Every edge of every face: fetched when somebody wants to see them. */
export function useEveryEdge(project: Project, wanted: boolean) {
  return useQuery({
    queryKey: ["edges", project.id, project.model.mesh],
    queryFn: async () => {
      const packet = readPacket(await getBytes(`/projects/${project.id}/edges`));
      return { ends: packet.floats("lines"), faces: packet.ids("line_faces") };
    },
    enabled: wanted,
    staleTime: Infinity,
  });
}

/** The edges that have a face in sight. */
export function linesInSight(lines: EdgeLines, hidden: Uint8Array): Float32Array {
  if (hidden.length === 0) return lines.ends;
  const out = new Float32Array(lines.ends.length);
  let at = 0;
  for (let k = 0; k * 2 < lines.faces.length; k++) {
    if (held(hidden, lines.faces[k * 2]!) && held(hidden, lines.faces[k * 2 + 1]!)) continue;
    out.set(lines.ends.subarray(k * 6, k * 6 + 6), at);
    at += 6;
  }
  return out.slice(0, at);
}

/** Three sets and the sheet's own are as many as the renderer takes. */
const MOST_SETS = 3;

/** A geometry with the corners of the model, and with the texture coordinates that they came with. */
function ofCorners(model: ModelArrays): BufferGeometry {
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", model.position);
  geometry.setAttribute("normal", model.normal);
  model.uvSets.slice(0, MOST_SETS).forEach((uv, k) => geometry.setAttribute(`uv${k + 1}`, new BufferAttribute(uv, 2)));
  return geometry;
}

/** The model as it came: group 0 without a material, k + 1 with source material k; hidden faces are left out. */
export function sourceGeometry(model: ModelArrays, sources: number, hidden: Uint8Array): BufferGeometry {
  const geometry = ofCorners(model);
  geometry.setIndex(new BufferAttribute(new Uint32Array(model.index), 1));
  groupByRow(geometry, model, model.faceSource, sources, hidden);
  return geometry;
}

/**
 * A geometry whose groups are: 0 the bare faces that came without a material, k + 1 the faces of row k of the
 * schedule, and then the bare faces of each source material.
 */
export function drawnGeometry(model: ModelArrays): BufferGeometry {
  const geometry = ofCorners(model);
  geometry.setAttribute("uv", new BufferAttribute(new Float32Array((model.position.count || 0) * 2), 2));
  geometry.setIndex(new BufferAttribute(new Uint32Array(model.index), 1));
  geometry.boundingSphere = null;
  geometry.computeBoundingSphere();
  return geometry;
}

/** Reorders the triangles by the row that covers them (-1 is bare); hidden ones come last, outside all groups. */
export function groupByRow(
  geometry: BufferGeometry,
  model: ModelArrays,
  cover: Int16Array,
  rows: number,
  hidden: Uint8Array,
  sources = 0,
) {
  const { index, triangleFace, faceSource } = model;
  const last = rows + sources;
  const slotOf = (face: number) => {
    if (held(hidden, face)) return last + 1;
    const row = cover[face] ?? -1;
    const source = sources ? (faceSource[face] ?? -1) : -1;
    return row >= 0 ? row + 1 : source >= 0 ? rows + 1 + source : 0;
  };
  const next = new Uint32Array(last + 3);
  for (const face of triangleFace) next[slotOf(face) + 1]! += 3;
  for (let slot = 1; slot < next.length; slot++) next[slot]! += next[slot - 1]!;
  geometry.clearGroups();
  for (let slot = 0; slot <= last; slot++) geometry.addGroup(next[slot]!, next[slot + 1]! - next[slot]!, slot);
  const attribute = geometry.index!;
  const ordered = attribute.array as Uint32Array;
  for (let t = 0; t < triangleFace.length; t++) {
    const slot = slotOf(triangleFace[t]!);
    const at = next[slot]!;
    ordered[at] = index[t * 3]!;
    ordered[at + 1] = index[t * 3 + 1]!;
    ordered[at + 2] = index[t * 3 + 2]!;
    next[slot] = at + 3;
  }
  attribute.needsUpdate = true;
}

/**
 * Writes one finish's (s', t') in mm to the corners of the faces given, in their order; or those of a sheet over it, which
 * are an attribute of their own.
 */
export function placeSheet(
  geometry: BufferGeometry,
  model: ModelArrays,
  faces: Uint32Array,
  st: Float32Array,
  name = "uv",
) {
  if (!geometry.hasAttribute(name)) {
    geometry.setAttribute(name, new BufferAttribute(new Float32Array(model.position.count * 2), 2));
  }
  const uv = geometry.getAttribute(name) as BufferAttribute;
  const out = uv.array as Float32Array;
  const { faceStart } = model;
  let from = 0;
  for (const face of faces) {
    const begin = faceStart[face]! * 2;
    const length = faceStart[face + 1]! * 2 - begin;
    out.set(st.subarray(from, from + length), begin);
    from += length;
  }
  uv.needsUpdate = true;
}

/** Writes what the color, roughness and bumps of each face are multiplied by to its corners; five numbers a face. */
export function placeTones(geometry: BufferGeometry, model: ModelArrays, faces: Uint32Array, tones: Float32Array) {
  const [color, made] = (
    [
      ["toneColor", 3],
      ["toneMade", 2],
    ] as const
  ).map(([name, size]) => {
    if (!geometry.hasAttribute(name)) {
      geometry.setAttribute(name, new BufferAttribute(new Float32Array(model.position.count * size).fill(1), size));
    }
    const attribute = geometry.getAttribute(name) as BufferAttribute;
    attribute.needsUpdate = true;
    return attribute.array as Float32Array;
  });
  faces.forEach((face, row) => {
    for (let corner = model.faceStart[face]!; corner < model.faceStart[face + 1]!; corner++) {
      color!.set(tones.subarray(row * 5, row * 5 + 3), corner * 3);
      made!.set(tones.subarray(row * 5 + 3, row * 5 + 5), corner * 2);
    }
  });
}

/** The faces of each row, in order, where every face takes one row (-1 is bare). */
export function facesByRow(cover: Int16Array, rows: number): Uint32Array[] {
  const counts = new Uint32Array(rows);
  for (const row of cover) if (row >= 0) counts[row]!++;
  const out = Array.from(counts, (count) => new Uint32Array(count));
  const next = new Uint32Array(rows);
  cover.forEach((row, face) => {
    if (row >= 0) out[row]![next[row]!++] = face;
  });
  return out;
}

/** A geometry of its own for some faces, with room for a laying: single sheets and trials. */
export function partGeometry(model: ModelArrays, faces: Uint32Array, hidden?: Uint8Array): BufferGeometry {
  const mask = new Uint8Array(Math.ceil((model.faceStart.length - 1) / 8));
  for (const face of faces) if (!hidden || !held(hidden, face)) mask[face >> 3]! |= 1 << (face & 7);
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", model.position);
  geometry.setAttribute("normal", model.normal);
  geometry.setAttribute("uv", new BufferAttribute(new Float32Array(model.position.count * 2), 2));
  geometry.setIndex(new BufferAttribute(trianglesOf(model, mask), 1));
  return geometry;
}

/** One color a face, written to all its corners. */
export function toneFaces(
  geometry: BufferGeometry,
  model: ModelArrays,
  tone: (face: number) => [number, number, number],
) {
  const { faceStart } = model;
  const colors = new Float32Array(model.position.count * 3);
  for (let face = 0; face < faceStart.length - 1; face++) {
    const rgb = tone(face);
    for (let corner = faceStart[face]!; corner < faceStart[face + 1]!; corner++) colors.set(rgb, corner * 3);
  }
  geometry.setAttribute("color", new BufferAttribute(colors, 3));
}

/** The triangles of the faces in a bit mask, as an index over the corners. */
export function trianglesOf(model: ModelArrays, mask: Uint8Array): Uint32Array {
  const { index, triangleFace } = model;
  const out = new Uint32Array(index.length);
  let at = 0;
  for (let t = 0; t < triangleFace.length; t++) {
    const face = triangleFace[t]!;
    if (held(mask, face)) {
      out[at++] = index[t * 3]!;
      out[at++] = index[t * 3 + 1]!;
      out[at++] = index[t * 3 + 2]!;
    }
  }
  return out.slice(0, at);
}
