import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import { BufferAttribute, BufferGeometry, DoubleSide, GreaterDepth } from "three";

import { trianglesOf, type ModelArrays } from "../model/geometry";
import { pickOutline } from "../model/outline";
import { wideLines } from "../model/wideLines";
import { usePick } from "../state/pick";

const PLACE = /* glsl */ `
  #include <clipping_planes_pars_vertex>
  void main() {
    vec4 mvPosition = modelViewMatrix * vec4(position, 1.0);
    gl_Position = projectionMatrix * mvPosition;
    #include <clipping_planes_vertex>
  }
`;

// A light veil: the material stays to be read beneath it.
const VEIL = /* glsl */ `
  #include <clipping_planes_pars_fragment>
  void main() {
    #include <clipping_planes_fragment>
    gl_FragColor = vec4(0.06, 0.60, 0.52, 0.13);
  }
`;

// Behind the model: dots, so that nobody takes it for a face in front.
const THROUGH = /* glsl */ `
  #include <clipping_planes_pars_fragment>
  void main() {
    #include <clipping_planes_fragment>
    vec2 place = mod(gl_FragCoord.xy, 6.0) - 3.0;
    float dot_ = 1.0 - smoothstep(1.1, 1.9, length(place));
    gl_FragColor = vec4(0.66, 0.23, 0.12, 0.16 + 0.7 * dot_);
  }
`;

/** The pick in hand, by its outline and a light veil; on demand also where the model hides it. */
export function Picked({ model }: { model: ModelArrays }) {
  const mask = usePick((s) => s.pick.mask);
  const hidden = usePick((s) => s.hidden.mask);
  const xray = usePick((s) => s.xray);
  const { invalidate } = useThree();
  const geometry = useMemo(() => {
    const made = new BufferGeometry().setAttribute("position", model.position);
    made.setIndex(new BufferAttribute(trianglesOf(model, without(mask, hidden)), 1));
    return made;
  }, [model, mask, hidden]);
  const outline = useMemo(() => {
    const shown = without(mask, hidden);
    return outlined(pickOutline(model, geometry.index!.array as Uint32Array, shown));
  }, [model, geometry, mask, hidden]);
  useEffect(() => () => void (outline?.geometry.dispose(), outline?.material.dispose()), [outline]);
  useEffect(() => {
    invalidate();
    return () => geometry.dispose();
  }, [geometry, xray, invalidate]);
  if (geometry.index!.count === 0) return null;
  return (
    <>
      {outline && <primitive object={outline} />}
      <mesh geometry={geometry} userData={DRAWING} raycast={() => null} renderOrder={2}>
        <shaderMaterial
          vertexShader={PLACE}
          fragmentShader={VEIL}
          clipping
          transparent
          side={DoubleSide}
          depthWrite={false}
          polygonOffset
          polygonOffsetFactor={-1}
          polygonOffsetUnits={-2}
        />
      </mesh>
      {xray && (
        <mesh geometry={geometry} userData={DRAWING} raycast={() => null} renderOrder={3}>
          <shaderMaterial
            vertexShader={PLACE}
            fragmentShader={THROUGH}
            clipping
            transparent
            side={DoubleSide}
            depthFunc={GreaterDepth}
            depthWrite={false}
          />
        </mesh>
      )}
    </>
  );
}

/** A bit mask without what another holds. */
const without = (mask: Uint8Array, less: Uint8Array) =>
  less.length ? mask.map((bits, at) => bits & ~(less[at] ?? 0)) : mask;

/** Not the model, but what is drawn over it. */
const DRAWING = { drawing: true };

/** The outline as a line two pixels wide. */
function outlined(ends: Float32Array) {
  if (ends.length === 0) return null;
  const object = wideLines(ends, {
    color: "#0c6b60",
    linewidth: 2.5,
    polygonOffset: true,
    polygonOffsetFactor: -1,
    polygonOffsetUnits: -6,
  });
  object.renderOrder = 4;
  return object;
}
