/** What lies on the sheet of a finish: its faces, the pieces that they form, and their outlines. */

import { useQuery } from "@tanstack/react-query";
import { BufferAttribute, BufferGeometry, DoubleSide, Ray, Triangle, Vector3 } from "three";
import { MeshBVH } from "three-mesh-bvh";

import { getBytes } from "../api/client";
import { readPacket } from "../api/packet";
import type { Finish, FlatHeader, FlatPiece, Pair, Project } from "../api/wire.gen";
import { held, type ModelArrays } from "../model/geometry";

/** A face as a row of the flat view, and the place on the model, in the view's coordinates. */
export interface FlatHit {
  row: number;
  point: Vector3;
}

export interface Flat {
  /** The laying that it shows. */
  key: string;
  pieces: FlatPiece[];
  overlapM2: number;
  /** Areas to avoid within the first repeat: least s and t, greatest s and t in mm; and the pieces that lie on one. */
  avoid: FlatHeader["avoid_mm"];
  touching: number[];
  /** What is bare of the parts that the finish lies on. Where it stands aside, its pieces come after those that are laid. */
  bareFaces: number;
  bareM2: number;
  /** The faces laid there, and of each the piece that it belongs to. */
  faces: Uint32Array;
  piece: Uint32Array;
  /** (s, t, 0) mm of each corner of each triangle; and of each triangle the row of its face. */
  position: Float32Array;
  triangleRow: Uint32Array;
  /** The two ends of each edge of an outline, (s, t) each, and its piece. */
  rims: Float32Array;
  rimPiece: Uint32Array;
  /** What lies at a place of the sheet; null where nothing does. */
  hitAt: (place: Pair) => FlatHit | null;
}

export function useFlat(project: Project, model: ModelArrays | undefined, finish: Finish | null) {
  return useQuery({
    queryKey: [
      "flat",
      project.id,
      finish?.key,
      finish?.laying_key,
      finish && project.materials[finish.material]?.avoid_mm,
    ],
    queryFn: async () => {
      const bytes = await getBytes(`/projects/${project.id}/flat/${finish!.key}?key=${finish!.laying_key}`);
      // No content: the project has moved on, and a newer state is on the way.
      return bytes.byteLength === 0 ? null : readFlat(bytes, model!, finish!.laying_key);
    },
    enabled: Boolean(model && finish?.faces),
    placeholderData: (previous, query) => (query?.queryKey[2] === finish?.key ? previous : undefined),
    gcTime: 10_000,
  });
}

function readFlat(buffer: ArrayBuffer, model: ModelArrays, key: string): Flat {
  const packet = readPacket<FlatHeader>(buffer);
  const [faces, piece] = [packet.ids("faces"), packet.ids("piece")];
  const { position, triangleRow, triangle } = triangles(model, faces, packet.floats("st"));
  return {
    key,
    pieces: packet.header.pieces,
    overlapM2: packet.header.overlap_m2,
    avoid: packet.header.avoid_mm,
    touching: packet.header.touching,
    bareFaces: packet.header.bare_faces,
    bareM2: packet.header.bare_m2,
    faces,
    piece,
    position,
    triangleRow,
    rims: packet.floats("rims"),
    rimPiece: packet.ids("rim_piece"),
    hitAt: finder(model, position, triangleRow, triangle),
  };
}

/** The triangles of some faces, laid at st: (s, t) of their corners, face after face. */
function triangles(model: ModelArrays, faces: Uint32Array, st: Float32Array) {
  const start = new Map<number, [row: number, first: number]>();
  let first = 0;
  faces.forEach((face, row) => {
    start.set(face, [row, first]);
    first += model.faceStart[face + 1]! - model.faceStart[face]!;
  });
  const position: number[] = [];
  const rows: number[] = [];
  const triangle: number[] = [];
  for (let t = 0; t < model.triangleFace.length; t++) {
    const face = model.triangleFace[t]!;
    const at = start.get(face);
    if (!at) continue;
    rows.push(at[0]);
    triangle.push(t);
    for (let k = 0; k < 3; k++) {
      const corner = at[1] + model.index[3 * t + k]! - model.faceStart[face]!;
      position.push(st[2 * corner]!, st[2 * corner + 1]!, 0);
    }
  }
  return { position: new Float32Array(position), triangleRow: new Uint32Array(rows), triangle };
}

/** triangle: of each triangle of the flat view, which of the model it is. */
function finder(
  model: ModelArrays,
  position: Float32Array,
  triangleRow: Uint32Array,
  triangle: number[],
): Flat["hitAt"] {
  if (position.length === 0) return () => null;
  const geometry = new BufferGeometry().setAttribute("position", new BufferAttribute(position.slice(), 3));
  geometry.setIndex(
    new BufferAttribute(
      new Uint32Array(position.length / 3).map((_, at) => at),
      1,
    ),
  );
  // The tree puts the triangles into an order of its own.
  const bvh = new MeshBVH(geometry);
  const ordered = geometry.index!.array;
  const ray = new Ray(new Vector3(), new Vector3(0, 0, -1));
  return ([s, t]) => {
    ray.origin.set(s, t, 1);
    const hit = bvh.raycastFirst(ray, DoubleSide);
    if (!hit) return null;
    const at = Math.floor(ordered[hit.faceIndex! * 3]! / 3);
    const [a, b, c] = [0, 1, 2].map((k) => new Vector3().fromArray(position, 9 * at + 3 * k)) as Three;
    const share = Triangle.getBarycoord(new Vector3(s, t, 0), a, b, c, new Vector3());
    const point = new Vector3();
    for (let k = 0; k < 3; k++) {
      const corner = model.index[3 * triangle[at]! + k]!;
      point.addScaledVector(new Vector3().fromArray(model.position.array, 3 * corner), share?.getComponent(k) ?? 1 / 3);
    }
    return { row: triangleRow[at]!, point };
  };
}

type Three = [Vector3, Vector3, Vector3];

/** The pieces of which a pick holds a face. */
export function pickedPieces(flat: Flat, mask: Uint8Array): Set<number> {
  const out = new Set<number>();
  if (mask.length) flat.faces.forEach((face, row) => held(mask, face) && out.add(flat.piece[row]!));
  return out;
}

/** The faces that stand aside, bare. */
export const asideOf = (flat: Flat): number[] =>
  Array.from(flat.faces).filter((_, row) => flat.piece[row]! >= flat.pieces.length);

/** Least s and t, greatest s and t of what is drawn of some pieces, those aside too. */
export function drawnBox(flat: Flat, wanted: (piece: number) => boolean): [number, number, number, number] | null {
  const corners: Pick<FlatPiece, "box_mm">[] = [];
  flat.rimPiece.forEach((piece, row) => {
    const [s, t] = [flat.rims[4 * row]!, flat.rims[4 * row + 1]!];
    if (wanted(piece)) corners.push({ box_mm: [s, t, s, t] });
  });
  return boxOf(corners);
}

/** What is told of some pieces; of those that stand aside, bare, nothing is. */
export const piecesIn = (flat: Flat, picked: ReadonlySet<number>): FlatPiece[] =>
  [...picked].flatMap((piece) => flat.pieces[piece] ?? []);

export const facesOf = (flat: Flat, piece: number): number[] =>
  Array.from(flat.faces).filter((_, row) => flat.piece[row] === piece);

/** Least s and t, greatest s and t of some pieces. */
export function boxOf(pieces: Iterable<Pick<FlatPiece, "box_mm">>): [number, number, number, number] | null {
  let box: [number, number, number, number] | null = null;
  for (const { box_mm: b } of pieces) {
    box = box
      ? [Math.min(box[0], b[0]), Math.min(box[1], b[1]), Math.max(box[2], b[2]), Math.max(box[3], b[3])]
      : [b[0], b[1], b[2], b[3]];
  }
  return box;
}
