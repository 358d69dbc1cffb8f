import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import { BufferAttribute, BufferGeometry, LineBasicMaterial, MeshBasicMaterial } from "three";

import type { Finish } from "../api/wire.gen";
import { useFlatEye, type FlatEye } from "./flatEye";
import { useFlatHand } from "./flatHand";
import type { Flat } from "./pieces";

/** Where the material repeats: thin lines, as long as they stand apart. */
export function Repeats({ finish }: { finish: Finish }) {
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

/** How far grain lines stand apart on the screen. */
const GRAIN_PX = 22;

/** The direction of the material's grain, all over the view. */
export function GrainLines({ grainDeg }: { grainDeg: number }) {
  const { invalidate } = useThree();
  const eye = useFlatEye();
  const lines = useMemo(() => {
    const angle = (grainDeg * Math.PI) / 180;
    const [c, n] = [Math.cos(angle), Math.sin(angle)];
    const reach = Math.hypot(eye.width, eye.height) * eye.mmPerPixel;
    const apart = GRAIN_PX * eye.mmPerPixel;
    // Held to the sheet, so that they do not swim while it is moved.
    const across = -n * eye.middle[0] + c * eye.middle[1];
    const places: number[] = [];
    for (let k = Math.ceil((across - reach / 2) / apart); k * apart < across + reach / 2; k++)
      for (const end of [-reach, reach]) {
        const along = c * eye.middle[0] + n * eye.middle[1] + end / 2;
        places.push(c * along - n * k * apart, n * along + c * k * apart, 0);
      }
    return new BufferGeometry().setAttribute("position", new BufferAttribute(new Float32Array(places), 3));
  }, [eye, grainDeg]);
  useEffect(() => {
    invalidate();
    return () => lines.dispose();
  }, [lines, invalidate]);
  return <lineSegments geometry={lines} material={grained} renderOrder={1.5} frustumCulled={false} />;
}

const grained = new LineBasicMaterial({ color: "#0c6b60", depthTest: false, toneMapped: false });

type Box = readonly [number, number, number, number];

/** More of them than this are not drawn: the view is too far away to tell them apart. */
const MOST_AREAS = 2000;

/** A box wherever it comes again within the view; once on a sheet that does not repeat. */
export function copiesInView(box: Box, repeat: readonly [number, number], tile: boolean, eye: FlatEye): Box[] {
  if (!tile) return [box];
  const spans = ([0, 1] as const).map((axis) => {
    const half = ((axis === 0 ? eye.width : eye.height) / 2) * eye.mmPerPixel;
    const first = Math.floor((eye.middle[axis] - half - box[axis + 2]!) / repeat[axis]);
    const last = Math.ceil((eye.middle[axis] + half - box[axis]) / repeat[axis]);
    return [first, last] as const;
  }) as [readonly [number, number], readonly [number, number]];
  if ((spans[0][1] - spans[0][0] + 1) * (spans[1][1] - spans[1][0] + 1) > MOST_AREAS) return [];
  const out: Box[] = [];
  for (let i = spans[0][0]; i <= spans[0][1]; i++)
    for (let j = spans[1][0]; j <= spans[1][1]; j++) {
      const [s, t] = [i * repeat[0], j * repeat[1]];
      out.push([box[0] + s, box[1] + t, box[2] + s, box[3] + t]);
    }
  return out;
}

const filled = new MeshBasicMaterial({
  color: "#b03a1e",
  transparent: true,
  opacity: 0.28,
  depthTest: false,
  side: 2,
  toneMapped: false,
});
// Drawn with what lets things show through, which comes after all that does not.
const bordered = new LineBasicMaterial({ color: "#8f2a12", transparent: true, depthTest: false, toneMapped: false });

/** What pieces are to keep clear of, wherever it comes again; and the box that the hand draws. */
export function Areas({ finish, flat }: { finish: Finish; flat: Flat }) {
  const { invalidate } = useThree();
  const eye = useFlatEye();
  const drawn = useFlatHand((s) => s.box);
  const [width, height] = finish.repeat_mm;
  const { tile } = finish;
  const [fill, line] = useMemo(() => {
    const boxes = flat.avoid.flatMap((box) => copiesInView(box, [width, height], tile, eye));
    if (drawn) boxes.push(drawn);
    const faces = boxes.flatMap(([a, b, c, d]) => [a, b, 0, c, b, 0, c, d, 0, a, b, 0, c, d, 0, a, d, 0]);
    const sides = boxes.flatMap(([a, b, c, d]) => [
      ...[a, b, 0, c, b, 0, c, b, 0, c, d, 0],
      ...[c, d, 0, a, d, 0, a, d, 0, a, b, 0],
    ]);
    return [faces, sides].map((places) =>
      new BufferGeometry().setAttribute("position", new BufferAttribute(new Float32Array(places), 3)),
    ) as [BufferGeometry, BufferGeometry];
  }, [flat.avoid, width, height, tile, eye, drawn]);
  useEffect(() => {
    invalidate();
    return () => (fill.dispose(), line.dispose());
  }, [fill, line, invalidate]);
  return (
    <>
      <mesh geometry={fill} material={filled} renderOrder={4.5} frustumCulled={false} />
      <lineSegments geometry={line} material={bordered} renderOrder={7} frustumCulled={false} />
    </>
  );
}
