/** How the pieces are drawn: counted where they lie, veiled beside, hatched where they share a place. */

import { useEffect, useMemo } from "react";
import {
  type BufferGeometry,
  EqualStencilFunc,
  IncrementStencilOp,
  KeepStencilOp,
  LessEqualStencilFunc,
  LineBasicMaterial,
  type Material,
  MeshBasicMaterial,
  ShaderMaterial,
} from "three";

import { FAULTS } from "../looks/tones";
import { quad } from "./flatGeometry";

/** What is bare stands aside in the color that tells it everywhere. */
const BARE = FAULTS.find(({ text }) => text === "bare")!.color;

/** A quad over all of the view, whatever the eye does. */
export function useVeil(): BufferGeometry {
  const veil = useMemo(() => quad(-1, -1, 1, 1, [1, 1]), []);
  useEffect(() => () => veil.dispose(), [veil]);
  return veil;
}

const WHOLE_VIEW = /* glsl */ `
  void main() { gl_Position = vec4(position.xy, 0.0, 1.0); }
`;

const BESIDE = /* glsl */ `
  void main() { gl_FragColor = vec4(0.93, 0.92, 0.89, 0.62); }
`;

const HATCH = /* glsl */ `
  void main() {
    float at = mod(gl_FragCoord.x + gl_FragCoord.y, 9.0);
    if (at > 1.6) discard;
    gl_FragColor = vec4(0.72, 0.22, 0.08, 0.85);
  }
`;

export function useMaterials() {
  const made = useMemo(() => {
    const plain = { depthTest: false, depthWrite: false, toneMapped: false };
    const stencil = { stencilWrite: true, stencilFail: KeepStencilOp, stencilZFail: KeepStencilOp };
    return {
      count: new MeshBasicMaterial({
        ...plain,
        ...stencil,
        side: 2,
        colorWrite: false,
        stencilZPass: IncrementStencilOp,
      }),
      beside: new ShaderMaterial({
        vertexShader: WHOLE_VIEW,
        fragmentShader: BESIDE,
        transparent: true,
        depthTest: false,
        depthWrite: false,
        ...stencil,
        stencilRef: 0,
        stencilFunc: EqualStencilFunc,
        stencilZPass: KeepStencilOp,
      }),
      over: new ShaderMaterial({
        vertexShader: WHOLE_VIEW,
        fragmentShader: HATCH,
        transparent: true,
        depthTest: false,
        depthWrite: false,
        ...stencil,
        stencilRef: 2,
        stencilFunc: LessEqualStencilFunc,
        stencilZPass: KeepStencilOp,
      }),
      bare: new MeshBasicMaterial({ ...plain, side: 2, color: BARE }),
      toned: new MeshBasicMaterial({ ...plain, side: 2, vertexColors: true, transparent: true, opacity: 0.86 }),
      hand: new MeshBasicMaterial({ ...plain, side: 2, color: "#0fa08c", transparent: true, opacity: 0.1 }),
      rim: new LineBasicMaterial({ ...plain, vertexColors: true }),
    };
  }, []);
  useEffect(() => () => Object.values<Material>(made).forEach((material) => material.dispose()), [made]);
  return made;
}
