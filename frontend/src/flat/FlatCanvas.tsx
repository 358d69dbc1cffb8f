import { Canvas, useThree } from "@react-three/fiber";
import { memo, useEffect, useLayoutEffect, useMemo, useRef } from "react";
import { BufferAttribute, Color, type Mesh, MeshBasicMaterial, OrthographicCamera } from "three";

import type { Finish, Project } from "../api/wire.gen";
import { drawsFinely } from "../view/graphicsCard";
import { RENDERER, TABLE } from "../view/toneCurve";
import { usePanes } from "../state/panes";
import { usePick } from "../state/pick";
import { useHand } from "../state/hand";
import { useLook } from "../state/look";
import { lookOf } from "../looks/registry";
import { HAND, geometryOf, INK, moveAlong, OVER, piecesGeometry, quad, rimsGeometry } from "./flatGeometry";
import { useFlatHand } from "./flatHand";
import { Areas, GrainLines, Repeats } from "./FlatMarks";
import { useMaterials, useVeil } from "./flatMaterials";
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
      dpr={[0.25, 2]}
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
  const grainDeg = project.materials[finish.material]?.grain_deg ?? null;
  const tint = useRef<Mesh>(null);
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
      const held = useFlatHand.getState();
      moveAlong(geometry, rims, flat, held);
      // While they go along, their outlines tell which they are: thousands of them follow the hand sooner.
      if (tint.current) tint.current.visible = held.pieces.size === 0;
      invalidate();
    };
    follow();
    return useFlatHand.subscribe(follow);
  }, [geometry, rims, flat, invalidate]);

  const hand = useMemo(() => geometryOf(geometry, flat, (piece) => picked.has(piece)), [geometry, flat, picked]);
  const aside = useMemo(() => geometryOf(geometry, flat, (piece) => piece >= flat.pieces.length), [geometry, flat]);
  const materials = useMaterials();
  useEffect(() => () => (geometry.dispose(), rims.dispose()), [geometry, rims]);
  const veil = useVeil();
  return (
    <>
      {/* How many pieces lie at a place is counted, and read by what is drawn after it. */}
      <mesh geometry={geometry} material={materials.count} renderOrder={1} />
      <mesh geometry={veil} material={materials.beside} renderOrder={2} frustumCulled={false} />
      <mesh geometry={aside} material={materials.bare} renderOrder={2.5} />
      {toned && <mesh geometry={geometry} material={materials.toned} renderOrder={3} />}
      <mesh geometry={veil} material={materials.over} renderOrder={4} frustumCulled={false} />
      <mesh ref={tint} geometry={hand} material={materials.hand} renderOrder={5} />
      <lineSegments geometry={rims} material={materials.rim} renderOrder={6} frustumCulled={false} />
      <Repeats finish={finish} />
      <Areas finish={finish} flat={flat} />
      {look === "grain" && grainDeg !== null && <GrainLines grainDeg={grainDeg} />}
    </>
  );
}
