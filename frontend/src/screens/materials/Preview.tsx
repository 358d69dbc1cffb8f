import { Canvas, useThree } from "@react-three/fiber";
import { useEffect, useMemo, useState } from "react";
import { BoxGeometry, BufferAttribute, OrthographicCamera, SphereGeometry, Vector3, type BufferGeometry } from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";

import type { Material } from "../../api/wire.gen";
import { RENDERER, TABLE } from "../../view/toneCurve";
import { RowSurface } from "../../looks/surfaces";
import { plainFinish } from "../../model/plainFinish";
import { LIGHT_START } from "../../state/look";
import { useSky } from "../../view/useSky";
import { PLAIN_PAINT } from "../../looks/look";

/** A ball, a slab and a corner of the material, each of a stated size in mm. */
export function Preview({ material }: { material: Material }) {
  // A repeat or two: enough to see how it tiles, few enough to see what it is.
  const size = roundSize(Math.max(...material.repeat_mm));
  const [marks, setMarks] = useState<Mark[]>([]);
  return (
    <figure className="min-w-0">
      <div
        data-testid="preview"
        className="relative h-[min(30rem,calc(100vh-13.5rem))] w-full border border-ink bg-table"
      >
        <Canvas
          frameloop="demand"
          dpr={[1, 2]}
          orthographic
          camera={{
            position: [-0.55 * size * 4, -0.9 * size * 4, 0.62 * size * 4],
            up: [0, 0, 1],
            near: 0.01 * size,
            far: 20 * size,
            zoom: 1,
          }}
          scene={{ background: TABLE }}
          gl={{ ...RENDERER, preserveDrawingBuffer: true }}
        >
          <Shapes material={material} size={size} onMarks={setMarks} />
        </Canvas>
        <SizeMarks marks={marks} text={`${size} mm`} />
      </div>
      <figcaption className="label mt-2">
        A ball {size} mm across, a slab of {size} × {size} × {size / 8} mm, and a corner of {size} mm. Drag to turn
        them.
      </figcaption>
    </figure>
  );
}

function roundSize(mm: number): number {
  const power = 10 ** Math.floor(Math.log10(mm));
  return [1, 2, 5, 10].map((lead) => lead * power).find((round) => round >= mm)!;
}

/** Two ends of a size mark, in pixels of the picture. */
type Mark = [[number, number], [number, number]];

/** The edges that are dimensioned: the ball's width, a side of the slab, a side of the corner. */
const dimensioned = (size: number) =>
  [
    [-1.75, 0, -0.62, -0.75, 0, -0.62],
    [-0.5, -0.62, -0.5, 0.5, -0.62, -0.5],
    [0.75, -0.62, -0.5, 1.75, -0.62, -0.5],
  ].map((ends) =>
    [new Vector3(...ends.slice(0, 3)), new Vector3(...ends.slice(3))].map((end) => end.multiplyScalar(size)),
  );

function SizeMarks({ marks, text }: { marks: Mark[]; text: string }) {
  return (
    <svg className="pointer-events-none absolute inset-0 size-full" aria-hidden>
      {marks.map(([[ax, ay], [bx, by]], k) => {
        const length = Math.hypot(bx - ax, by - ay) || 1;
        const [nx, ny] = [(-(by - ay) / length) * 6, ((bx - ax) / length) * 6];
        return (
          <g key={k} className="stroke-ink" strokeWidth={1.2}>
            <line x1={ax} y1={ay} x2={bx} y2={by} />
            <line x1={ax - nx} y1={ay - ny} x2={ax + nx} y2={ay + ny} />
            <line x1={bx - nx} y1={by - ny} x2={bx + nx} y2={by + ny} />
            <text x={(ax + bx) / 2} y={(ay + by) / 2 + 16} textAnchor="middle" className="figure fill-ink stroke-none">
              {text}
            </text>
          </g>
        );
      })}
    </svg>
  );
}

function Shapes({ material, size, onMarks }: { material: Material; size: number; onMarks: (marks: Mark[]) => void }) {
  const { gl, camera, size: view, invalidate } = useThree();
  useSky(LIGHT_START);
  useEffect(() => {
    const eye = camera as OrthographicCamera;
    eye.zoom = Math.min(view.width / (size * 3.9), view.height / (size * 2.2));
    const target = new Vector3(0.12 * size, 0, 0.08 * size);
    eye.lookAt(target);
    eye.updateProjectionMatrix();
    const controls = new OrbitControls(eye, gl.domElement);
    controls.target.copy(target);
    controls.enablePan = controls.enableZoom = false;
    const moved = () => {
      eye.updateMatrixWorld();
      const ends = dimensioned(size).map((pair) =>
        pair.map((end) => {
          const at = end.project(eye);
          return [((at.x + 1) / 2) * view.width, ((1 - at.y) / 2) * view.height];
        }),
      );
      onMarks(ends as Mark[]);
      invalidate();
    };
    controls.addEventListener("change", moved);
    moved();
    invalidate();
    return () => controls.dispose();
  }, [gl, camera, view, size, onMarks, invalidate]);
  const surface = useMemo(
    () =>
      new RowSurface("", plainFinish(material.key), { [material.key]: material }, PLAIN_PAINT, 1, "normal", invalidate),
    [material, invalidate],
  );
  const shapes = useMemo(() => [ball(size), slab(size), ...corner(size)], [size]);
  useEffect(
    () => () => {
      surface.dispose();
      shapes.forEach((shape) => shape.dispose());
    },
    [surface, shapes],
  );
  return (
    <>
      <directionalLight position={[-0.62 * size, -0.78 * size, 1.05 * size]} intensity={2.1} color="#fff6e8" />
      {shapes.map((shape, k) => (
        <mesh key={k} geometry={shape} material={surface.material} />
      ))}
    </>
  );
}

/** Places on the sheet are in mm, as everywhere in the view: a box measures each side from its corner. */
function boxed(width: number, depth: number, height: number): BufferGeometry {
  const shape = new BoxGeometry(width, depth, height).toNonIndexed();
  const position = shape.getAttribute("position");
  const normal = shape.getAttribute("normal");
  const uv = new Float32Array(position.count * 2);
  for (let k = 0; k < position.count; k++) {
    const [x, y, z] = [position.getX(k) + width / 2, position.getY(k) + depth / 2, position.getZ(k) + height / 2];
    const [nx, ny] = [normal.getX(k), normal.getY(k)];
    const [s, t] = Math.abs(nx) > 0.5 ? [nx > 0 ? y : -y, z] : Math.abs(ny) > 0.5 ? [ny > 0 ? -x : x, z] : [x, y];
    uv.set([s, t], k * 2);
  }
  shape.setAttribute("uv", new BufferAttribute(uv, 2));
  return shape;
}

function slab(size: number): BufferGeometry {
  return boxed(size, size, size / 8).translate(0, 0, -size / 2 + size / 16);
}

/** Two walls and a floor that meet. */
function corner(size: number): BufferGeometry[] {
  const thin = size / 40;
  return [
    boxed(size, thin, size).translate(size * 1.25, size / 2, 0),
    boxed(thin, size, size).translate(size * 1.25 + size / 2, 0, 0),
    boxed(size, size, thin).translate(size * 1.25, 0, -size / 2),
  ];
}

function ball(size: number): BufferGeometry {
  const radius = size / 2;
  const shape = new SphereGeometry(radius, 96, 48).rotateX(Math.PI / 2);
  const uv = shape.getAttribute("uv") as BufferAttribute;
  for (let k = 0; k < uv.count; k++)
    uv.setXY(k, uv.getX(k) * 2 * Math.PI * radius, (uv.getY(k) - 0.5) * Math.PI * radius);
  return shape.translate(-size * 1.25, 0, 0);
}
