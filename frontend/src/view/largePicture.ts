/** A picture of the view at any size: drawn in tiles on the view's own canvas, and put together. */

import {
  OrthographicCamera,
  PerspectiveCamera,
  type BufferGeometry,
  type Camera,
  type LineBasicMaterial,
  type LineSegments,
  type Object3D,
  type Scene,
  type WebGLRenderer,
} from "three";
import type { LineMaterial } from "three/examples/jsm/lines/LineMaterial.js";
import { LineSegments2 } from "three/examples/jsm/lines/LineSegments2.js";

import type { PictureAsked } from "../model/eye";
import { splitAt } from "../model/split";
import { wideLines } from "../model/wideLines";
import type { FineDrawing } from "./picture";

/** Pixels along a side of a tile, and around it, so that the shade of what lies beyond is the same on both sides. */
const TILE = 1536;
const MARGIN = 64;

interface View {
  gl: WebGLRenderer;
  scene: Scene;
  camera: Camera;
  /** Draws with contact shadows; null where the picture has none. */
  fine: FineDrawing | null;
  /** The size of the view on the page, in CSS pixels. */
  page: { width: number; height: number };
  /** Draws the view as it was. */
  restore: () => void;
}

/** The picture as a canvas. It is drawn a tile at a time, and others come in between. */
export async function largePicture(view: View, asked: PictureAsked, told: (share: number) => void) {
  const { width, height } = asked;
  const out = document.createElement("canvas");
  [out.width, out.height] = [width, height];
  const onto = out.getContext("2d");
  if (!onto) throw new Error("this browser has no room for a picture of this size");
  const tiles: [number, number][] = [];
  for (let y = 0; y < height; y += TILE) for (let x = 0; x < width; x += TILE) tiles.push([x, y]);
  const dress = dressing(view.scene, asked, asked.height / view.page.height);
  // Only the shade looks beyond the edge of a tile.
  const margin = view.fine ? MARGIN : 0;
  try {
    for (const [number, [x, y]] of tiles.entries()) {
      const [w, h] = [Math.min(TILE, width - x), Math.min(TILE, height - y)];
      tile(view, asked, dress, [x - margin, y - margin, w + 2 * margin, h + 2 * margin], (canvas) => {
        onto.drawImage(canvas, margin, margin, w, h, x, y, w, h);
      });
      told((number + 1) / tiles.length);
      await new Promise((resolve) => setTimeout(resolve, 0));
    }
  } finally {
    dress.dispose();
  }
  return out;
}

/** Draws one tile (left, top, width, height) of the whole picture, and hands the canvas over while it holds it. */
function tile(
  view: View,
  asked: PictureAsked,
  dress: Dressing,
  [left, top, width, height]: [number, number, number, number],
  take: (canvas: HTMLCanvasElement) => void,
) {
  const { gl, scene, fine, page } = view;
  const camera = cameraFor(view.camera, asked.width / asked.height);
  camera.setViewOffset(asked.width, asked.height, left, top, width, height);
  dress.on();
  const back = split(gl, asked, left);
  const ratio = gl.getPixelRatio();
  gl.setPixelRatio(1);
  gl.setSize(width, height, false);
  if (fine) fine.draw(camera, width, height);
  else gl.render(scene, camera);
  take(gl.domElement);
  gl.setPixelRatio(ratio);
  gl.setSize(page.width, page.height, false);
  back();
  dress.off();
  view.restore();
}

/** The same eye for a picture of other proportions: it shows as much from bottom to top. */
function cameraFor(camera: Camera, aspect: number): PerspectiveCamera | OrthographicCamera {
  const own = camera.clone() as PerspectiveCamera | OrthographicCamera;
  if (own instanceof PerspectiveCamera) own.aspect = aspect;
  else [own.left, own.right] = [-own.top * aspect, own.top * aspect];
  own.updateProjectionMatrix();
  return own;
}

/** The line between two compared materials, as the shader counts it: from the left of what is drawn. */
function split(gl: WebGLRenderer, asked: PictureAsked, left: number) {
  const before = splitAt.value;
  const share = before / Math.max(gl.domElement.width, 1);
  splitAt.value = share * asked.width - left;
  return () => void (splitAt.value = before);
}

/** How the scene is dressed for a picture: put on for a tile, and off again before anybody sees it in the view. */
interface Dressing {
  on: () => void;
  off: () => void;
  dispose: () => void;
}

/** The background and the drawing as asked; lines are as wide as they look in the view. */
function dressing(scene: Scene, asked: PictureAsked, scale: number): Dressing {
  const { background } = scene;
  const hidden: Object3D[] = [];
  const widened: LineMaterial[] = [];
  const added: LineSegments2[] = [];
  scene.traverseVisible((object) => {
    const wide = object instanceof LineSegments2;
    const thin = !wide && "isLineSegments" in object;
    if (!wide && !thin && !object.userData.drawing) return;
    if (!asked.drawing) hidden.push(object);
    else if (wide) widened.push(object.material);
    else if (thin && scale > 1) {
      // Thin lines are one pixel wide whatever is drawn.
      hidden.push(object);
      added.push(thicker(object as LineSegments<BufferGeometry, LineBasicMaterial>, scale));
    }
  });
  return {
    on() {
      if (asked.transparent) scene.background = null;
      hidden.forEach((object) => (object.visible = false));
      widened.forEach((material) => (material.linewidth *= scale));
      added.forEach((object) => scene.add(object));
    },
    off() {
      scene.background = background;
      hidden.forEach((object) => (object.visible = true));
      widened.forEach((material) => (material.linewidth /= scale));
      added.forEach((object) => scene.remove(object));
    },
    dispose() {
      added.forEach((object) => {
        object.geometry.dispose();
        object.material.dispose();
      });
    },
  };
}

function thicker(lines: LineSegments<BufferGeometry, LineBasicMaterial>, linewidth: number): LineSegments2 {
  const { color, opacity } = lines.material;
  const ends = lines.geometry.getAttribute("position").array as Float32Array;
  return wideLines(ends, { color, opacity, transparent: true, linewidth });
}
