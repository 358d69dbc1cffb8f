import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import {
  Color,
  Mesh,
  Scene,
  Vector3,
  Vector4,
  type BufferGeometry,
  type Camera,
  type Material as ThreeMaterial,
  type WebGLRenderer,
} from "three";

import type { Finish, LibraryMaterial, Material, Project } from "../api/wire.gen";
import { useLibrary } from "../api/project";
import { eyeFor } from "./cameras";
import { lookingFrom, useEye } from "../model/eye";
import { partGeometry, placeSheet, toneFaces, type ModelArrays } from "../model/geometry";
import { plainMaterial, RowSurface } from "../looks/surfaces";
import { texturesReady } from "../looks/textures";
import { plainFinish } from "../model/plainFinish";
import { type Trials, useDesk } from "../state/desk";
import { current, put } from "../state";
import { lookOf } from "../looks/registry";

const WIDTH = 1080;
const ASPECT = 1.9;

/** Takes a small picture of each trial with the view's own light and from where the view looks. */
export function TrialShots({ project, model }: { project: Project; model: ModelArrays }) {
  const { gl, scene, invalidate } = useThree();
  const trials = useDesk((s) => s.trials);
  const { data: library = [] } = useLibrary();

  const faces = trials?.faces;
  const points = useMemo(() => faces && pickedPoints(model, faces), [model, faces]);

  useEffect(() => {
    const done = trials?.pictures[trials.shows] ?? [];
    const at = done.length;
    if (!trials || !points || at >= trials.list.length) return;
    const materials = { ...Object.fromEntries(library.map((m) => [m.key, m])), ...project.materials };
    let waiting = 0;
    let tries = 0;
    const shoot = () => {
      const surface = surfaceOf(project, trials, materials, at);
      // Images may still be on their way; after a while a picture without them is better than none.
      if (!texturesReady() && tries++ < 100) {
        surface.dispose();
        waiting = window.setTimeout(shoot, 80);
        return;
      }
      // One eye for all of them.
      const towards = new Vector3(...lookingFrom(useEye.getState()).towards);
      const { camera } = eyeFor(points, "around", ASPECT, towards);
      const drawn = [...done, picture(gl, scene, camera, model, trials, at, surface)];
      surface.dispose();
      if (current().trials === trials) {
        put({ trials: { ...trials, pictures: { ...trials.pictures, [trials.shows]: drawn } } });
      }
      invalidate();
    };
    // One after the other, each seen as soon as it is drawn.
    waiting = window.setTimeout(shoot, 0);
    return () => window.clearTimeout(waiting);
  }, [trials, points, gl, scene, model, project, library, invalidate]);

  return null;
}

type Materials = Record<string, Material | LibraryMaterial>;

/** Something to draw a trial with. */
interface Surface {
  material: ThreeMaterial;
  dispose: () => void;
}

function surfaceOf(project: Project, trials: Trials, materials: Materials, at: number): Surface {
  if (trials.shows === "stretch") {
    const material = plainMaterial("#ffffff", true);
    return { material, dispose: () => material.dispose() };
  }
  const paint = lookOf(trials.shows).paint;
  const base = project.finishes.find((f) => f.key === trials.finish);
  const { projection, datum } = trials.list[at]!;
  const finish = plainFinish(trials.material, { projection, datum, ...(base && placed(base)) });
  const square = project.model.checker_mm;
  const surface = new RowSurface("", finish, materials, paint, square, "normal", () => undefined);
  surface.place(finish, finish, materials, project.model.view_origin_mm);
  return surface;
}

const placed = (f: Finish) => ({
  turn_deg: f.turn_deg,
  grain_deg: f.grain_deg,
  offset_mm: f.offset_mm,
  scale: f.scale,
});

function picture(
  gl: WebGLRenderer,
  scene: Scene,
  camera: Camera,
  model: ModelArrays,
  trials: Trials,
  at: number,
  surface: Surface,
): string {
  const geometry = partGeometry(model, trials.faces);
  placeSheet(geometry, model, trials.faces, trials.sheets[at]!);
  if (trials.shows === "stretch") toneTrial(geometry, model, trials, at);
  const mesh = new Mesh(geometry, surface.material);
  mesh.receiveShadow = true;
  const canvas = gl.domElement;
  // As much of the canvas as has the proportions of a picture, from its lower left corner.
  const width = Math.floor(Math.min(canvas.width, canvas.height * ASPECT));
  const height = Math.floor(width / ASPECT);
  const out = document.createElement("canvas");
  out.width = WIDTH;
  out.height = WIDTH / ASPECT;
  // Drawn on the view's own canvas and taken off it before anybody sees it there.
  const hidden = scene.children.filter((child) => !("isLight" in child) && child.visible);
  hidden.forEach((child) => (child.visible = false));
  scene.add(mesh);
  const whole = gl.getViewport(new Vector4());
  const ratio = gl.getPixelRatio();
  gl.setViewport(0, 0, width / ratio, height / ratio);
  gl.render(scene, camera);
  gl.setViewport(whole);
  out.getContext("2d")!.drawImage(canvas, 0, canvas.height - height, width, height, 0, 0, out.width, out.height);
  scene.remove(mesh);
  hidden.forEach((child) => (child.visible = true));
  geometry.dispose();
  return out.toDataURL("image/jpeg", 0.9);
}

/** The tones of the stretch look, on the faces of a trial. */
function toneTrial(geometry: BufferGeometry, model: ModelArrays, trials: Trials, at: number) {
  const { low, high, kind } = trials.tones[at]!;
  const place = new Int32Array(model.faceStart.length).fill(-1);
  trials.faces.forEach((face, k) => (place[face] = k));
  const tone = lookOf("stretch").tone!;
  toneFaces(geometry, model, (face) => {
    const k = place[face] ?? -1;
    if (k < 0) return [0, 0, 0];
    return new Color(tone({ low: low[k]!, high: high[k]!, kind: kind[k]! })).toArray() as [number, number, number];
  });
}

function pickedPoints(model: ModelArrays, faces: Uint32Array): Float32Array {
  const out: number[] = [];
  const step = Math.max(1, Math.floor(faces.length / 20_000));
  for (let k = 0; k < faces.length; k += step) {
    for (let corner = model.faceStart[faces[k]!]!; corner < model.faceStart[faces[k]! + 1]!; corner++) {
      out.push(...model.position.array.subarray(corner * 3, corner * 3 + 3));
    }
  }
  return new Float32Array(out);
}
