import { Canvas, useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import {
  BufferAttribute,
  BufferGeometry,
  Color,
  DoubleSide,
  Vector3,
  type DirectionalLight,
  type Material as ThreeMaterial,
} from "three";

import type { Material, Project } from "../api/types";
import { useWorkbench } from "../workbench/store";
import { CameraRig } from "./CameraRig";
import { makeEnvironment } from "./environment";
import { drawnGeometry, trianglesOf, type ModelArrays } from "./geometry";
import { BARE_COLORS, checkerMaterial, finishMaterial, plainMaterial, type Look } from "./materials";
import { useFaceClicks } from "./useFaceClicks";
import { useLaying } from "./useLaying";

interface Props {
  project: Project;
  model: ModelArrays;
  onFace: (face: number | null, event: PointerEvent) => void;
}

const TABLE = new Color("#b6b6b4");

/** The model, lit, with the pattern of its finishes; a click on it names the face. */
export function ModelView({ project, model, onFace }: Props) {
  return (
    <Canvas
      frameloop="demand"
      shadows="percentage"
      dpr={[1, 2]}
      gl={{ antialias: true }}
      scene={{ background: TABLE }}
    >
      <Light model={model} />
      <Model project={project} model={model} onFace={onFace} />
      <Lines model={model} />
      <Picked model={model} />
      <CameraRig model={model} />
    </Canvas>
  );
}

function Light({ model }: { model: ModelArrays }) {
  const { gl, scene, invalidate } = useThree();
  const sun = useRef<DirectionalLight>(null);
  useEffect(() => {
    const texture = makeEnvironment(gl);
    scene.environment = texture;
    scene.environmentIntensity = 0.62;
    invalidate();
    return () => texture.dispose();
  }, [gl, scene, invalidate]);

  useEffect(() => {
    const light = sun.current;
    if (!light) return;
    const geometry = new BufferGeometry().setAttribute("position", model.position);
    geometry.computeBoundingSphere();
    const sphere = geometry.boundingSphere!;
    light.position.copy(sphere.center).add(new Vector3(-0.62, -0.78, 1.05).normalize().multiplyScalar(sphere.radius * 2));
    light.target.position.copy(sphere.center);
    light.target.updateMatrixWorld();
    const camera = light.shadow.camera;
    camera.left = camera.bottom = -sphere.radius;
    camera.right = camera.top = sphere.radius;
    camera.near = sphere.radius * 0.5;
    camera.far = sphere.radius * 3.5;
    camera.updateProjectionMatrix();
    light.shadow.normalBias = sphere.radius / 700;
    // The model stands still, so its shadow is drawn once.
    gl.shadowMap.autoUpdate = false;
    gl.shadowMap.needsUpdate = true;
    invalidate();
  }, [model, gl, invalidate]);

  return <directionalLight ref={sun} intensity={2.1} color="#fff6e8" castShadow shadow-mapSize={[2048, 2048]} />;
}

function Model({ project, model, onFace }: Props) {
  const { invalidate, gl } = useThree();
  const look = useWorkbench((s) => s.look);
  const square = useWorkbench((s) => s.squareMm) ?? project.model.checker_mm;
  const geometry = useMemo(() => drawnGeometry(model), [model]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  const shown = useLaying(project, model, geometry);
  const setShown = useWorkbench((s) => s.setShown);

  const surfaces = useSurfaces(project, look, square);

  useEffect(() => {
    gl.shadowMap.needsUpdate = true;
    invalidate();
    setShown(shown);
  }, [shown, surfaces, gl, invalidate, setShown]);

  useFaceClicks(model, onFace);

  return (
    <mesh geometry={geometry} material={surfaces} castShadow receiveShadow visible={shown !== null} raycast={() => null} />
  );
}

/**
 * The materials of the groups: bare faces first, then one a row. Rows of one material share it, and it
 * is made anew only when it looks different: most edits move the sheet and leave the material alone.
 */
function useSurfaces(project: Project, look: Look, square: number): ThreeMaterial[] {
  const { invalidate } = useThree();
  const rows = project.finishes.map((finish) => finish.material).join("|");
  const stated = JSON.stringify(project.materials);
  const made = useMemo(() => {
    const changed = () => invalidate();
    const own = Object.values(JSON.parse(stated) as Record<string, Material>).map(
      (material): [string, ThreeMaterial] => {
        if (look === "checker") return [material.key, checkerMaterial(square, changed)];
        return [material.key, look === "bare" ? plainMaterial("#cfcdc6") : finishMaterial(material, changed)];
      },
    );
    return { bare: plainMaterial(BARE_COLORS[look]), own: new Map(own) };
  }, [stated, look, square, invalidate]);
  useEffect(
    () => () => {
      made.bare.dispose();
      made.own.forEach((material) => material.dispose());
    },
    [made],
  );
  return useMemo(
    () => [made.bare, ...(rows ? rows.split("|").map((key) => made.own.get(key) ?? made.bare) : [])],
    [made, rows],
  );
}

/** Creases and open edges, as a drawing would have them. */
function Lines({ model }: { model: ModelArrays }) {
  const geometry = useMemo(
    () => new BufferGeometry().setAttribute("position", new BufferAttribute(model.lines, 3)),
    [model],
  );
  useEffect(() => () => geometry.dispose(), [geometry]);
  return (
    <lineSegments geometry={geometry} raycast={() => null}>
      <lineBasicMaterial color="#22282b" transparent opacity={0.28} />
    </lineSegments>
  );
}

const HATCH_PLACE = /* glsl */ `
  void main() { gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0); }
`;

// Strokes of the accent over a faint wash: plain to see, with the material's own color between them.
const HATCH = /* glsl */ `
  void main() {
    float along = mod(gl_FragCoord.x + gl_FragCoord.y, 11.0);
    float stroke = 1.0 - smoothstep(1.0, 2.0, abs(along - 5.5));
    gl_FragColor = vec4(mix(vec3(0.10, 0.62, 0.56), vec3(0.05, 0.38, 0.35), stroke), 0.12 + 0.68 * stroke);
  }
`;

/** The pick in hand, hatched as a drawing would mark it. */
function Picked({ model }: { model: ModelArrays }) {
  const mask = useWorkbench((s) => s.pick.mask);
  const { invalidate } = useThree();
  const geometry = useMemo(() => {
    const made = new BufferGeometry().setAttribute("position", model.position);
    made.setIndex(new BufferAttribute(trianglesOf(model, mask), 1));
    return made;
  }, [model, mask]);
  useEffect(() => {
    invalidate();
    return () => geometry.dispose();
  }, [geometry, invalidate]);
  if (geometry.index!.count === 0) return null;
  return (
    <mesh geometry={geometry} raycast={() => null} renderOrder={2}>
      <shaderMaterial
        vertexShader={HATCH_PLACE}
        fragmentShader={HATCH}
        transparent
        side={DoubleSide}
        depthWrite={false}
        polygonOffset
        polygonOffsetFactor={-1}
        polygonOffsetUnits={-2}
      />
    </mesh>
  );
}
