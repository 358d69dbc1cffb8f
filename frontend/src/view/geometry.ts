/** The model's arrays in the browser, and the index order that gives each finish its own draw. */

import { useQuery } from "@tanstack/react-query";
import { BufferAttribute, BufferGeometry } from "three";
import { MeshBVH } from "three-mesh-bvh";

import { getBytes } from "../api/client";
import { readPacket } from "../api/packet";
import type { Project } from "../api/types";

export interface ModelArrays {
  parts: string[];
  position: BufferAttribute;
  normal: BufferAttribute;
  /** Triangles in file order: corner ids, three a triangle. */
  index: Uint32Array;
  triangleFace: Uint32Array;
  faceStart: Uint32Array;
  facePart: Uint32Array;
  lines: Float32Array;
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
  const packet = readPacket<{ parts: string[] }>(buffer);
  const position = new BufferAttribute(packet.floats("position"), 3);
  const index = packet.ids("index");
  const picking = new BufferGeometry();
  picking.setAttribute("position", position);
  picking.setIndex(new BufferAttribute(index, 1));
  return {
    parts: packet.header.parts,
    position,
    normal: new BufferAttribute(packet.floats("normal"), 3),
    index,
    triangleFace: packet.ids("triangle_face"),
    faceStart: packet.ids("face_start"),
    facePart: packet.ids("face_part"),
    lines: packet.floats("lines"),
    // Indirect: the triangles keep their order, so that a hit names the face.
    bvh: new MeshBVH(picking, { indirect: true }),
  };
}

/** A geometry whose groups are: 0 the bare faces, k + 1 the faces of row k of the schedule. */
export function drawnGeometry(model: ModelArrays): BufferGeometry {
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", model.position);
  geometry.setAttribute("normal", model.normal);
  geometry.setAttribute("uv", new BufferAttribute(new Float32Array((model.position.count || 0) * 2), 2));
  geometry.setIndex(new BufferAttribute(new Uint32Array(model.index), 1));
  geometry.boundingSphere = null;
  geometry.computeBoundingSphere();
  return geometry;
}

/** Reorders the triangles by the row that covers them (-1 is bare). */
export function groupByRow(geometry: BufferGeometry, model: ModelArrays, cover: Int16Array, rows: number) {
  const { index, triangleFace } = model;
  const next = new Uint32Array(rows + 2);
  for (const face of triangleFace) next[(cover[face] ?? -1) + 2]! += 3;
  for (let slot = 1; slot < next.length; slot++) next[slot]! += next[slot - 1]!;
  geometry.clearGroups();
  for (let slot = 0; slot <= rows; slot++) geometry.addGroup(next[slot]!, next[slot + 1]! - next[slot]!, slot);
  const attribute = geometry.index!;
  const ordered = attribute.array as Uint32Array;
  for (let t = 0; t < triangleFace.length; t++) {
    const slot = (cover[triangleFace[t]!] ?? -1) + 1;
    const at = next[slot]!;
    ordered[at] = index[t * 3]!;
    ordered[at + 1] = index[t * 3 + 1]!;
    ordered[at + 2] = index[t * 3 + 2]!;
    next[slot] = at + 3;
  }
  attribute.needsUpdate = true;
}

/** Writes one finish's (s', t') in mm to the corners of the faces of its row, in face order. */
export function placeSheet(
  geometry: BufferGeometry,
  model: ModelArrays,
  cover: Int16Array,
  row: number,
  st: Float32Array,
) {
  const uv = geometry.getAttribute("uv") as BufferAttribute;
  const out = uv.array as Float32Array;
  const { faceStart } = model;
  let from = 0;
  for (let face = 0; face < cover.length; face++) {
    if (cover[face] !== row) continue;
    const begin = faceStart[face]! * 2;
    const length = faceStart[face + 1]! * 2 - begin;
    out.set(st.subarray(from, from + length), begin);
    from += length;
  }
  uv.needsUpdate = true;
}

/** The triangles of the faces in a bit mask, as an index over the corners. */
export function trianglesOf(model: ModelArrays, mask: Uint8Array): Uint32Array {
  const { index, triangleFace } = model;
  const out = new Uint32Array(index.length);
  let at = 0;
  for (let t = 0; t < triangleFace.length; t++) {
    const face = triangleFace[t]!;
    if ((mask[face >> 3]! >> (face & 7)) & 1) {
      out[at++] = index[t * 3]!;
      out[at++] = index[t * 3 + 1]!;
      out[at++] = index[t * 3 + 2]!;
    }
  }
  return out.slice(0, at);
}
