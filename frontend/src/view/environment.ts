/** Light made in code: an overcast sky over pale ground with one bright quarter, as a studio would. */

import {
  BackSide,
  Color,
  Mesh,
  PMREMGenerator,
  Scene,
  ShaderMaterial,
  SphereGeometry,
  type Texture,
  type WebGLRenderer,
} from "three";

const SKY = /* glsl */ `
  varying vec3 direction;
  void main() {
    direction = position;
    gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
  }
`;

// Z is up. The bright quarter stands at the front left, where a draughtsman's lamp would.
const LIGHT = /* glsl */ `
  varying vec3 direction;
  void main() {
    vec3 d = normalize(direction);
    vec3 ground = vec3(0.30, 0.285, 0.26);
    vec3 horizon = vec3(0.74, 0.76, 0.78);
    vec3 zenith = vec3(0.92, 0.96, 1.04);
    vec3 light = d.z < 0.0 ? mix(horizon * 0.62, ground, smoothstep(0.0, 0.25, -d.z))
                           : mix(horizon, zenith, smoothstep(0.0, 0.9, d.z));
    float lamp = smoothstep(0.55, 0.97, dot(d, normalize(vec3(-0.55, -0.6, 0.58))));
    gl_FragColor = vec4(light + lamp * vec3(2.1, 2.0, 1.8), 1.0);
  }
`;

/** What a model stands before; `--color-table` of the page. */
export const TABLE = new Color("#b6b6b4");

/** Pixels along a side of the cube. The sky is so soft that more shows no difference, and takes seconds without a graphics card. */
const SIZE = 64;

/** Filters at the size asked for; the original's least size is made for photographs of surroundings. */
class SoftSkyGenerator extends PMREMGenerator {
  _setSize() {
    Object.assign(this, { _cubeSize: SIZE });
  }
}

export function makeEnvironment(renderer: WebGLRenderer): Texture {
  const scene = new Scene();
  const sky = new Mesh(
    new SphereGeometry(10, 32, 24),
    new ShaderMaterial({ side: BackSide, vertexShader: SKY, fragmentShader: LIGHT }),
  );
  scene.add(sky);
  const generator = new SoftSkyGenerator(renderer);
  const texture = generator.fromScene(scene, 0.01, 0.1, 100).texture;
  generator.dispose();
  sky.geometry.dispose();
  sky.material.dispose();
  return texture;
}
