import { OrthographicCamera, PerspectiveCamera, Vector3 } from "three";
import { describe, expect, it } from "vitest";

import { eyeFor, STRAIGHT } from "./cameras";
import type { EyeView } from "../state/eyes";

/** The corners of a long, low building, off the origin. */
const BUILDING = new Float32Array(
  [0, 1, 2, 3, 4, 5, 6, 7].flatMap((k) => [k & 1 ? 12_000 : 0, k & 2 ? 6_000 : 400, k & 4 ? 4_500 : -900]),
);

function onScreen(points: Float32Array, camera: PerspectiveCamera | OrthographicCamera): Vector3[] {
  camera.updateMatrixWorld();
  return Array.from({ length: points.length / 3 }, (_, i) => new Vector3().fromArray(points, i * 3).project(camera));
}

describe("a view of the whole", () => {
  const views: EyeView[] = ["around", "front", "back", "left", "right", "top", "below"];
  for (const view of views) {
    for (const aspect of [0.6, 1.87]) {
      it(`from ${view} at ${aspect} has every point in the frame and fills it`, () => {
        const { camera } = eyeFor(BUILDING, view, aspect);
        const seen = onScreen(BUILDING, camera);
        const reach = Math.max(...seen.flatMap((p) => [Math.abs(p.x), Math.abs(p.y)]));
        expect(reach).toBeLessThanOrEqual(1);
        expect(reach).toBeGreaterThan(0.5);
        expect(seen.every((p) => p.z > -1 && p.z < 1)).toBe(true);
      });
    }
  }

  it("is parallel when it is straight, and looks along its axis", () => {
    const { camera, target } = eyeFor(BUILDING, "left", 1.5);
    expect(camera).toBeInstanceOf(OrthographicCamera);
    const towards = camera.position.clone().sub(target).normalize();
    expect(towards.distanceTo(STRAIGHT.left)).toBeLessThan(1e-6);
  });

  it("has the model's z upright, and y upright from above", () => {
    for (const [view, up] of [
      ["front", new Vector3(0, 0, 1)],
      ["top", new Vector3(0, 1, 0)],
    ] as const) {
      const { camera, target } = eyeFor(BUILDING, view, 1.5);
      const [low, high] = onScreen(new Float32Array([...target, ...target.clone().addScaledVector(up, 500)]), camera);
      expect(high!.y).toBeGreaterThan(low!.y);
      expect(high!.x).toBeCloseTo(low!.x, 5);
    }
  });

  it("keeps its direction when it goes to a pick", () => {
    const towards = new Vector3(1, 1, 1).normalize();
    const { camera, target } = eyeFor(BUILDING, "around", 1.5, towards);
    expect(camera).toBeInstanceOf(PerspectiveCamera);
    expect(camera.position.clone().sub(target).normalize().distanceTo(towards)).toBeLessThan(1e-6);
  });

  it("survives a pick of a single point", () => {
    const { camera } = eyeFor(new Float32Array([5, 5, 5]), "around", 1.5);
    expect(camera.position.toArray().every(Number.isFinite)).toBe(true);
  });
});
