import { Canvas, useThree } from "@react-three/fiber";
import { memo, useEffect, useLayoutEffect, useMemo } from "react";
import {
  BufferAttribute,
  BufferGeometry,
  Color,
  EqualStencilFunc,
  IncrementStencilOp,
  KeepStencilOp,
  LessEqualStencilFunc,
  LineBasicMaterial,
  MeshBasicMaterial,
  OrthographicCamera,
  ShaderMaterial,
  type Material,
} from "three";

import type { Finish, Project } from "../api/wire.gen";
import { drawsFinely } from "../view/graphicsCard";
import { RENDERER, TABLE } from "../view/toneCurve";
import { usePanes } from "../state/panes";
import { usePick } from "../state/pick";
import { useHand } from "../state/hand";
import { useLook } from "../state/look";
import { lookOf } from "../looks/registry";
import { motionOf, useFlatHand } from "./flatHand";
import { useFlatEye } from "./flatEye";
import { pickedPieces, type Flat } from "./pieces";
import { useSheetTexture } from "./useSheetTexture";
import { useFaceTones } from "../looks/useFaceTones";

interface Props {
  project: Project;
  finish: Finish;
  flat: Flat;
}

/** The endless sheet, and on it the pieces. */
export const FlatCanvas = memo(function FlatCanvas(props: Props) {
  const antialias = drawsFinely(usePanes((s) => s.quality));
  return (
    <Canvas
      key={String(antialias)}
      frameloop="demand"
      orthographic
      dpr={[0.5, 2]}
      gl={{ ...RENDERER, antialias, stencil: true }}
      scene={{ background: TABLE }}
    >
      <Eye />
      <Sheet {...props} />
      <PiecesDrawn {...props} />
    </Canvas>
  );
});

/** Stands the camera where the sheet is looked at from. */
function Eye() {
  const { camera, size, invalidate } = useThree();
  useLayoutEffect(() => useFlatEye.setState({ width: size.width, height: size.height }), [size]);
  useLayoutEffect(() => {
    const stand = () => {
      const { middle, mmPerPixel } = useFlatEye.getState();
      const eye = camera as OrthographicCamera;
      eye.position.set(middle[0], middle[1], 100);
      eye.zoom = 1 / mmPerPixel;
      eye.near = 0.1;
      eye.far = 1000;
      eye.updateProjectionMatrix();
      invalidate();
    };
    stand();
    return useFlatEye.subscribe(stand);
  }, [camera, size, invalidate]);
  return null;
}

/** One quad, mm on it as its texture coordinates. */
function quad(s0: number, t0: number, s1: number, t1: number, scale: [number, number]): BufferGeometry {
  const places = [s0, t0, s1, t0, s1, t1, s0, t0, s1, t1, s0, t1];
  const geometry = new BufferGeometry();
  const position = new Float32Array(18);
  const uv = new Float32Array(12);
  for (let k = 0; k < 6; k++) {
    position.set([places[2 * k]!, places[2 * k + 1]!, 0], 3 * k);
    uv.set([places[2 * k]! / scale[0], places[2 * k + 1]! / scale[1]], 2 * k);
  }
  geometry.setAttribute("position", new BufferAttribute(position, 3));
  geometry.setAttribute("uv", new BufferAttribute(uv, 2));
  return geometry;
}

function Sheet({ project, finish }: Props) {
  const { invalidate } = useThree();
  const { map, color } = useSheetTexture(project, finish, invalidate);
  const eye = useFlatEye();
  // A single sheet ends where it does; what tiles goes on as far as the view shows.
  const reach = Math.max(eye.width, eye.height) * eye.mmPerPixel;
  const [s, t] = eye.middle;
  const [width, height] = finish.repeat_mm;
  const [x, y] = finish.scale;
  const geometry = useMemo(
    () => (finish.tile ? quad(s - reach, t - reach, s + reach, t + reach, [x, y]) : quad(0, 0, width, height, [x, y])),
    [finish.tile, s, t, reach, width, height, x, y],
  );
  const material = useMemo(() => new MeshBasicMaterial({ map, color, toneMapped: false }), [map, color]);
  useEffect(() => () => material.dispose(), [material]);
  useEffect(() => {
    invalidate();
    return () => geometry.dispose();
  }, [geometry, material, invalidate]);
  return <mesh geometry={geometry} material={material} renderOrder={0} />;
}

/** The pieces: what lies beside them is veiled, what lies over others is hatched, and those in hand are marked. */
function PiecesDrawn({ project, finish, flat }: Props) {
  const { invalidate } = useThree();
  const look = useLook((s) => s.look);
  const tones = useFaceTones(project, look);
  const mask = usePick((s) => s.pick.mask);
  const hovered = useHand((s) => s.hovered);
  const picked = useMemo(() => pickedPieces(flat, mask), [flat, mask]);
  const geometry = useMemo(() => piecesGeometry(flat), [flat]);
  const rims = useMemo(() => rimsGeometry(flat), [flat]);
  const { tone } = lookOf(look);
  const toned = tone !== undefined;

  useEffect(() => {
    const colors = geometry.getAttribute("color") as BufferAttribute;
    const color = new Color();
    if (!tones || !tone) return;
    flat.triangleRow.forEach((row, t) => {
      const face = flat.faces[row]!;
      color.set(tone({ low: tones.low[face]!, high: tones.high[face]!, kind: tones.kind[face]! }));
      for (let k = 0; k < 3; k++) colors.setXYZ(3 * t + k, color.r, color.g, color.b);
    });
    colors.needsUpdate = true;
    invalidate();
  }, [geometry, flat, tones, tone, invalidate]);

  useEffect(() => {
    const colors = rims.getAttribute("color") as BufferAttribute;
    const at = hovered === null ? -1 : flat.faces.indexOf(hovered);
    const over = at < 0 ? -1 : flat.piece[at]!;
    flat.rimPiece.forEach((piece, row) => {
      const [r, g, b] = picked.has(piece) ? HAND : piece === over ? OVER : INK;
      for (const k of [0, 1]) colors.setXYZ(2 * row + k, r, g, b);
    });
    colors.needsUpdate = true;
    invalidate();
  }, [rims, flat, picked, hovered, invalidate]);

  useEffect(() => {
    const follow = () => {
      moveAlong(geometry, rims, flat, useFlatHand.getState());
      invalidate();
    };
    follow();
    return useFlatHand.subscribe(follow);
  }, [geometry, rims, flat, invalidate]);

  const hand = useMemo(() => handGeometry(geometry, flat, picked), [geometry, flat, picked]);
  const materials = useMaterials();
  useEffect(() => () => (geometry.dispose(), rims.dispose()), [geometry, rims]);
  const veil = useVeil();
  return (
    <>
      {/* How many pieces lie at a place is counted, and read by what is drawn after it. */}
      <mesh geometry={geometry} material={materials.count} renderOrder={1} />
      <mesh geometry={veil} material={materials.beside} renderOrder={2} frustumCulled={false} />
      {toned && <mesh geometry={geometry} material={materials.toned} renderOrder={3} />}
      <mesh geometry={veil} material={materials.over} renderOrder={4} frustumCulled={false} />
      <mesh geometry={hand} material={materials.hand} renderOrder={5} />
      <lineSegments geometry={rims} material={materials.rim} renderOrder={6} frustumCulled={false} />
      <Repeats finish={finish} />
    </>
  );
}

const rgb = (hex: string) => new Color(hex).toArray() as [number, number, number];
const INK = rgb("#1f2421");
const HAND = rgb("#0c6b60");
const OVER = rgb("#d97b1c");

function piecesGeometry(flat: Flat): BufferGeometry {
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(flat.position.slice(), 3));
  geometry.setAttribute("color", new BufferAttribute(new Float32Array(flat.position.length).fill(1), 3));
  return geometry;
}

function rimsGeometry(flat: Flat): BufferGeometry {
  const count = flat.rims.length / 2;
  const position = new Float32Array(3 * count);
  for (let k = 0; k < count; k++) position.set([flat.rims[2 * k]!, flat.rims[2 * k + 1]!, 0], 3 * k);
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(position, 3));
  geometry.setAttribute("color", new BufferAttribute(new Float32Array(3 * count), 3));
  return geometry;
}

/** The same corners, of the picked pieces alone. */
function handGeometry(whole: BufferGeometry, flat: Flat, picked: ReadonlySet<number>): BufferGeometry {
  const rows: number[] = [];
  flat.triangleRow.forEach((row, t) => {
    if (picked.has(flat.piece[row]!)) rows.push(3 * t, 3 * t + 1, 3 * t + 2);
  });
  const geometry = new BufferGeometry().setAttribute("position", whole.getAttribute("position"));
  geometry.setIndex(rows);
  return geometry;
}

/** Puts the pieces under the hand where it has them, and all others where they lie. */
function moveAlong(
  geometry: BufferGeometry,
  rims: BufferGeometry,
  flat: Flat,
  hand: ReturnType<typeof useFlatHand.getState>,
) {
  const goes = new Uint8Array(flat.pieces.length);
  // What was taken up from another laying is not there any more.
  if (hand.key === flat.key) hand.pieces.forEach((piece) => (goes[piece] = 1));
  const motion = motionOf(hand);
  const move = (
    to: BufferAttribute,
    from: Float32Array,
    stride: number,
    each: number,
    pieceOf: (k: number) => number,
  ) => {
    const out = to.array;
    const [a, b, x, c, d, y] = motion;
    for (let k = 0; k < to.count; k++) {
      const [s, t] = [from[stride * k]!, from[stride * k + 1]!];
      const taken = goes[pieceOf(Math.floor(k / each))];
      out[3 * k] = taken ? a * s + b * t + x : s;
      out[3 * k + 1] = taken ? c * s + d * t + y : t;
    }
    to.needsUpdate = true;
  };
  const { piece, triangleRow, rimPiece } = flat;
  move(geometry.getAttribute("position") as BufferAttribute, flat.position, 3, 3, (t) => piece[triangleRow[t]!]!);
  move(rims.getAttribute("position") as BufferAttribute, flat.rims, 2, 2, (row) => rimPiece[row]!);
}

/** A quad over all of the view, whatever the eye does. */
function useVeil(): BufferGeometry {
  const veil = useMemo(() => quad(-1, -1, 1, 1, [1, 1]), []);
  useEffect(() => () => veil.dispose(), [veil]);
  return veil;
}

const WHOLE_VIEW = /* glsl */ `
  void main() { gl_Position = vec4(position.xy, 0.0, 1.0); }
`;

const BESIDE = /* glsl */ `
  void main() { gl_FragColor = vec4(0.93, 0.92, 0.89, 0.62); }
`;

const HATCH = /* glsl */ `
  void main() {
    float at = mod(gl_FragCoord.x + gl_FragCoord.y, 9.0);
    if (at > 1.6) discard;
    gl_FragColor = vec4(0.72, 0.22, 0.08, 0.85);
  }
`;

function useMaterials() {
  const made = useMemo(() => {
    const plain = { depthTest: false, depthWrite: false, toneMapped: false };
    const stencil = { stencilWrite: true, stencilFail: KeepStencilOp, stencilZFail: KeepStencilOp };
    return {
      count: new MeshBasicMaterial({
        ...plain,
        ...stencil,
        side: 2,
        colorWrite: false,
        stencilZPass: IncrementStencilOp,
      }),
      beside: new ShaderMaterial({
        vertexShader: WHOLE_VIEW,
        fragmentShader: BESIDE,
        transparent: true,
        depthTest: false,
        depthWrite: false,
        ...stencil,
        stencilRef: 0,
        stencilFunc: EqualStencilFunc,
        stencilZPass: KeepStencilOp,
      }),
      over: new ShaderMaterial({
        vertexShader: WHOLE_VIEW,
        fragmentShader: HATCH,
        transparent: true,
        depthTest: false,
        depthWrite: false,
        ...stencil,
        stencilRef: 2,
        stencilFunc: LessEqualStencilFunc,
        stencilZPass: KeepStencilOp,
      }),
      toned: new MeshBasicMaterial({ ...plain, side: 2, vertexColors: true, transparent: true, opacity: 0.86 }),
      hand: new MeshBasicMaterial({ ...plain, side: 2, color: "#0fa08c", transparent: true, opacity: 0.1 }),
      rim: new LineBasicMaterial({ ...plain, vertexColors: true }),
    };
  }, []);
  useEffect(() => () => Object.values<Material>(made).forEach((material) => material.dispose()), [made]);
  return made;
}

/** Where the material repeats: thin lines, as long as they stand apart. */
function Repeats({ finish }: { finish: Finish }) {
  const { invalidate } = useThree();
  const eye = useFlatEye();
  const [width, height] = finish.repeat_mm;
  const lines = useMemo(() => {
    const out: number[] = [];
    const [half, tall] = [(eye.width / 2) * eye.mmPerPixel, (eye.height / 2) * eye.mmPerPixel];
    const [s0, s1] = [eye.middle[0] - half, eye.middle[0] + half];
    const [t0, t1] = [eye.middle[1] - tall, eye.middle[1] + tall];
    const APART = 14;
    if (width / eye.mmPerPixel > APART)
      for (let s = Math.ceil(s0 / width) * width; s < s1; s += width) out.push(s, t0, 0, s, t1, 0);
    if (height / eye.mmPerPixel > APART)
      for (let t = Math.ceil(t0 / height) * height; t < t1; t += height) out.push(s0, t, 0, s1, t, 0);
    return new BufferGeometry().setAttribute("position", new BufferAttribute(new Float32Array(out), 3));
  }, [eye, width, height]);
  const material = useMemo(
    () =>
      new LineBasicMaterial({
        color: "#1f2421",
        transparent: true,
        opacity: 0.35,
        depthTest: false,
        toneMapped: false,
      }),
    [],
  );
  useEffect(() => {
    invalidate();
    return () => lines.dispose();
  }, [lines, invalidate]);
  return <lineSegments geometry={lines} material={material} renderOrder={1} frustumCulled={false} />;
}
