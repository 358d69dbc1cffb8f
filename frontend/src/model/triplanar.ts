/**
 * Three layings blended in the shader by the direction in which the surface looks: base color, roughness
 * and normals. The rule is the core's (`core.sampling`); a test compares pixels with it.
 */

import { Matrix3, Matrix4, Vector2, type MeshBasicMaterial, type MeshStandardMaterial, type Texture } from "three";

import type { Datum, Pair, Triple } from "../api/wire.gen";
import { datumMatrix } from "../datum/frame";

export interface TriplanarUniforms {
  triToDatum: { value: Matrix4 };
  triSheet: { value: Matrix3[] };
  triRepeat: { value: Vector2[] };
  triBlend: { value: number };
  triMirrored: { value: boolean };
  triOnce: { value: boolean };
  triMap: { value: (Texture | null)[] };
  triNormalMap: { value: (Texture | null)[] };
  triRoughnessMap: { value: (Texture | null)[] };
  /** 1 where the green of an axis' normal map points up its sheet, -1 where down. */
  triNormalUp: { value: number[] };
}

export function triplanarUniforms(): TriplanarUniforms {
  return {
    triToDatum: { value: new Matrix4() },
    triSheet: { value: [new Matrix3(), new Matrix3(), new Matrix3()] },
    triRepeat: { value: [new Vector2(1, 1), new Vector2(1, 1), new Vector2(1, 1)] },
    triBlend: { value: 0.3 },
    triMirrored: { value: false },
    triOnce: { value: false },
    triMap: { value: [null, null, null] },
    triNormalMap: { value: [null, null, null] },
    triRoughnessMap: { value: [null, null, null] },
    triNormalUp: { value: [1, 1, 1] },
  };
}

/** From the view's coordinates (mm from its origin) to the datum's. */
export function toDatum(datum: Datum, viewOrigin: Triple): Matrix4 {
  return datumMatrix(datum)
    .invert()
    .multiply(new Matrix4().makeTranslation(...viewOrigin));
}

export function repeatOf(size: Pair): Vector2 {
  return new Vector2(size[0], size[1]);
}

const PLACE = /* glsl */ `
  uniform mat4 triToDatum;
  varying vec3 vTriPlace;
  varying vec3 vTriNormal;
`;

const PUT = /* glsl */ `
  vTriPlace = (triToDatum * vec4(position, 1.0)).xyz;
  vTriNormal = mat3(triToDatum) * normal;
`;

const BLEND = /* glsl */ `
  uniform mat4 triToDatum;
  uniform mat3 triSheet[3];
  uniform vec2 triRepeat[3];
  uniform float triBlend;
  uniform bool triMirrored;
  uniform bool triOnce;
  uniform sampler2D triMap[3];
  uniform sampler2D triNormalMap[3];
  uniform sampler2D triRoughnessMap[3];
  uniform float triNormalUp[3];
  varying vec3 vTriPlace;
  varying vec3 vTriNormal;

  // The box's rules: in which direction of the datum s and t run on the side that an axis looks out of.
  void triSide(int axis, vec3 n, out vec3 along, out vec3 up) {
    float away = (!triMirrored && n[axis] < 0.0) ? -1.0 : 1.0;
    along = axis == 0 ? vec3(0.0, away, 0.0) : axis == 1 ? vec3(-away, 0.0, 0.0) : vec3(1.0, 0.0, 0.0);
    up = axis == 2 ? vec3(0.0, away, 0.0) : vec3(0.0, 0.0, 1.0);
  }

  vec2 triAt(int axis, vec3 n) {
    vec3 along, up;
    triSide(axis, n, along, up);
    vec3 placed = triSheet[axis] * vec3(dot(vTriPlace, along), dot(vTriPlace, up), 1.0);
    return placed.xy / triRepeat[axis];
  }

  vec3 triWeights(vec3 n) {
    vec3 size = abs(n) / max(max(abs(n.x), abs(n.y)), abs(n.z));
    vec3 raised = pow(size, vec3(1.0 / max(triBlend, 0.03)));
    return raised / (raised.x + raised.y + raised.z);
  }
`;

// A sheet that does not tile ends where the strongest of the three ends.
const COLOR = /* glsl */ `
  vec3 triN = normalize(vTriNormal);
  vec3 triW = triWeights(triN);
  vec2 triUv[3];
  triUv[0] = triAt(0, triN);
  triUv[1] = triAt(1, triN);
  triUv[2] = triAt(2, triN);
  if (triOnce) {
    vec2 strongest = triW.x >= max(triW.y, triW.z) ? triUv[0] : triW.y >= triW.z ? triUv[1] : triUv[2];
    if (any(lessThan(strongest, vec2(0.0))) || any(greaterThan(strongest, vec2(1.0)))) discard;
  }
  diffuseColor.rgb *= triW.x * texture2D(triMap[0], triUv[0]).rgb + triW.y * texture2D(triMap[1], triUv[1]).rgb
                    + triW.z * texture2D(triMap[2], triUv[2]).rgb;
`;

const ROUGH = /* glsl */ `
  float roughnessFactor = roughness;
  #ifdef TRI_ROUGHNESS
    roughnessFactor *= triW.x * texture2D(triRoughnessMap[0], triUv[0]).g + triW.y * texture2D(triRoughnessMap[1], triUv[1]).g
                     + triW.z * texture2D(triRoughnessMap[2], triUv[2]).g;
  #endif
`;

// Each map's slope becomes a gradient over the surface; those sum whatever way each sheet lies.
const NORMAL = /* glsl */ `
  #ifdef TRI_NORMAL
  {
    vec3 gradient = vec3(0.0);
    for (int axis = 0; axis < 3; axis++) {
      vec3 along, up;
      triSide(axis, triN, along, up);
      mat3 sheet = triSheet[axis];
      vec3 sRuns = normalize(sheet[0][0] * along + sheet[1][0] * up);
      vec3 tRuns = normalize(sheet[0][1] * along + sheet[1][1] * up);
      vec3 mapped = axis == 0 ? texture2D(triNormalMap[0], triUv[0]).xyz
                  : axis == 1 ? texture2D(triNormalMap[1], triUv[1]).xyz : texture2D(triNormalMap[2], triUv[2]).xyz;
      mapped = mapped * 2.0 - 1.0;
      mapped.y *= triNormalUp[axis];
      vec2 slope = -mapped.xy / max(mapped.z, 1e-3);
      gradient += triW[axis] * (slope.x * sRuns + slope.y * tRuns);
    }
    gradient -= dot(gradient, triN) * triN;
    // Back from the datum's axes to the model's, and on to the eye's.
    vec3 bent = transpose(mat3(triToDatum)) * normalize(triN - gradient);
    normal = normalize(mat3(viewMatrix) * bent) * faceDirection;
  }
  #endif
`;

/** Makes a material blend three layings; what it blends is set through the uniforms. */
export function blendThree(material: MeshStandardMaterial | MeshBasicMaterial, uniforms: TriplanarUniforms) {
  material.defines = {
    ...material.defines,
    ...(uniforms.triNormalMap.value[0] && { TRI_NORMAL: 1 }),
    ...(uniforms.triRoughnessMap.value[0] && { TRI_ROUGHNESS: 1 }),
  };
  material.onBeforeCompile = (shader) => {
    Object.assign(shader.uniforms, uniforms);
    shader.vertexShader = shader.vertexShader
      .replace("#include <common>", `#include <common>\n${PLACE}`)
      .replace("#include <begin_vertex>", `#include <begin_vertex>\n${PUT}`);
    shader.fragmentShader = shader.fragmentShader
      .replace("#include <common>", `#include <common>\n${BLEND}`)
      .replace("#include <map_fragment>", COLOR)
      .replace("#include <roughnessmap_fragment>", ROUGH)
      .replace("#include <normal_fragment_maps>", NORMAL);
  };
  material.customProgramCacheKey = () => `triplanar ${Object.keys(material.defines ?? {}).join(" ")}`;
}
