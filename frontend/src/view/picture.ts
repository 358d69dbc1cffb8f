/** Draws the scene once: plainly, or finely with the shade that surfaces cast on each other where they come close. */

import { DoubleSide, type Camera, type Object3D, type Scene, type WebGLRenderer } from "three";
import { FullScreenQuad } from "three/examples/jsm/postprocessing/Pass.js";
import { GTAOPass } from "three/examples/jsm/postprocessing/GTAOPass.js";

/** How far that shade reaches, as a share of the model's radius. */
const REACH = 0.035;
const STRENGTH = 0.85;

/** Draws a scene finely; made once a view, for its buffers are as large as the picture. */
export class FineDrawing {
  private readonly pass: GTAOPass;
  private readonly quad: FullScreenQuad;

  constructor(
    private readonly gl: WebGLRenderer,
    private readonly scene: Scene,
    camera: Camera,
    radius: number,
  ) {
    this.pass = new GTAOPass(scene, camera);
    // The shade is laid over the picture here, so that the tone curve is the same with it and without.
    this.pass.output = GTAOPass.OUTPUT.Off;
    this.pass.normalMaterial.side = DoubleSide;
    this.pass.updateGtaoMaterial({
      radius: radius * REACH,
      distanceExponent: 1.2,
      thickness: radius * REACH,
      samples: 16,
    });
    this.pass.blendMaterial.uniforms.intensity!.value = STRENGTH;
    this.quad = new FullScreenQuad(this.pass.blendMaterial);
  }

  /** Draws to the canvas, which is this many pixels large. */
  draw(camera: Camera, width: number, height: number) {
    const { gl, scene, pass } = this;
    gl.render(scene, camera);
    pass.camera = camera;
    pass.setSize(width, height);
    const over = drawnOver(scene);
    over.forEach((object) => (object.visible = false));
    pass.render(gl, null as never, null as never, 0, false);
    over.forEach((object) => (object.visible = true));
    pass.blendMaterial.uniforms.tDiffuse!.value = pass.pdRenderTarget.texture;
    const { autoClear } = gl;
    gl.autoClear = false;
    gl.setRenderTarget(null);
    this.quad.render(gl);
    gl.autoClear = autoClear;
  }

  dispose() {
    this.pass.dispose();
    this.quad.dispose();
  }
}

/** Lines that are drawn as faces, and the veil over the pick: they cast no shade on what they lie on. */
function drawnOver(scene: Scene): Object3D[] {
  const out: Object3D[] = [];
  scene.traverseVisible((object) => {
    if ("isLineSegments2" in object || object.userData.drawing) out.push(object);
  });
  return out;
}
