/** Draws a material on one side of a line across the view only. */

import type { Material } from "three";

export type Side = "before" | "beyond";

/** Where the line stands, in pixels of the drawing from its left; shared by both sides. */
export const splitAt = { value: 0 };

/** Leaves out what lies on the other side of the line; whatever else the material does stays. */
export function drawnOn(side: Side, material: Material) {
  const before = material.onBeforeCompile.bind(material);
  const key = material.customProgramCacheKey.bind(material);
  const wrong = side === "before" ? ">" : "<=";
  material.onBeforeCompile = (shader, renderer) => {
    before(shader, renderer);
    shader.uniforms.splitAt = splitAt;
    shader.fragmentShader = shader.fragmentShader
      .replace("#include <common>", "#include <common>\nuniform float splitAt;")
      .replace("#include <map_fragment>", `if (gl_FragCoord.x ${wrong} splitAt) discard;\n#include <map_fragment>`);
  };
  material.customProgramCacheKey = () => `${key()} ${side}`;
}
