import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import { BufferAttribute, BufferGeometry, DoubleSide, GreaterDepth } from "three";

import { trianglesOf, type ModelArrays } from "../model/geometry";
import { usePick } from "../state/pick";

const HATCH_PLACE = /* glsl */ `
  #include <clipping_planes_pars_vertex>
  void main() {
    vec4 mvPosition = modelViewMatrix * vec4(position, 1.0);
    gl_Position = projectionMatrix * mvPosition;
    #include <clipping_planes_vertex>
  }
`;

// Strokes of the accent over a faint wash: plain to see, with the material's own color between them.
const HATCH = /* glsl */ `
  #include <clipping_planes_pars_fragment>
  void main() {
    #include <clipping_planes_fragment>
    float along = mod(gl_FragCoord.x + gl_FragCoord.y, 11.0);
    float stroke = 1.0 - smoothstep(1.0, 2.0, abs(along - 5.5));
    gl_FragColor = vec4(mix(vec3(0.10, 0.62, 0.56), vec3(0.05, 0.38, 0.35), stroke), 0.12 + 0.68 * stroke);
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

/** The pick in hand, hatched as a drawing would mark it; on demand also where the model hides it. */
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
  useEffect(() => {
    invalidate();
    return () => geometry.dispose();
  }, [geometry, xray, invalidate]);
  if (geometry.index!.count === 0) return null;
  return (
    <>
      <mesh geometry={geometry} raycast={() => null} renderOrder={2}>
        <shaderMaterial
          vertexShader={HATCH_PLACE}
          fragmentShader={HATCH}
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
        <mesh geometry={geometry} raycast={() => null} renderOrder={3}>
          <shaderMaterial
            vertexShader={HATCH_PLACE}
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
