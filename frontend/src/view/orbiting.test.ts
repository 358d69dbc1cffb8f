import { PerspectiveCamera, Vector3 } from "three";
import { describe, expect, it } from "vitest";

import { orbit } from "./orbiting";

function looking() {
  const camera = new PerspectiveCamera(35, 1.5, 10, 1e6);
  const target = new Vector3(1000, 2000, 500);
  camera.up.set(0, 0, 1);
  camera.position.set(-4000, -6000, 3000);
  camera.lookAt(target);
  camera.updateMatrixWorld();
  return { camera, target };
}

describe("orbiting about a place", () => {
  it("keeps that place where it is on the screen", () => {
    const { camera, target } = looking();
    const pivot = new Vector3(2500, 800, 0);
    const before = pivot.clone().project(camera);
    orbit(camera, target, pivot, 0.7, 0.2);
    camera.updateMatrixWorld();
    const after = pivot.clone().project(camera);
    expect(after.x).toBeCloseTo(before.x, 5);
    expect(after.y).toBeCloseTo(before.y, 5);
  });

  it("stays upright, and stops at the poles", () => {
    const { camera, target } = looking();
    orbit(camera, target, target, 0, 10);
    camera.updateMatrixWorld();
    const away = camera.position.clone().sub(target).normalize();
    expect(away.z).toBeLessThan(1);
    expect(away.z).toBeGreaterThan(0.999);
    const right = new Vector3().setFromMatrixColumn(camera.matrixWorld, 0);
    expect(Math.abs(right.z)).toBeLessThan(1e-9);
  });

  it("upwards lifts the eye", () => {
    const { camera, target } = looking();
    const { z } = camera.position;
    orbit(camera, target, target, 0, 0.2);
    expect(camera.position.z).toBeGreaterThan(z);
  });
});
