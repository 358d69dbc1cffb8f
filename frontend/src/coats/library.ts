/**
 * What every coated surface is shaded with: random numbers, noise, cells, lines near by. The rules are the core's
 * (`core.coats`), line by line; a test compares pixels with it.
 */

/** `pcg4d` of M. Jarzynski and M. Olano, Journal of Computer Graphics Techniques 9(3), 2020. */
const HASH = /* glsl */ `
  uvec4 pcg4d(ivec4 of) {
    uvec4 v = uvec4(of) * 1664525u + 1013904223u;
    v.x += v.y * v.w; v.y += v.z * v.x; v.z += v.x * v.y; v.w += v.y * v.z;
    v = v ^ (v >> 16u);
    v.x += v.y * v.w; v.y += v.z * v.x; v.z += v.x * v.y; v.w += v.y * v.z;
    return v;
  }
  float share(uint bits) { return float(bits) / 4294967296.0; }
`;

/** K. Perlin, "Improving Noise", SIGGRAPH 2002. */
const NOISE = /* glsl */ `
  float slopeOf(uint bits, vec3 p) {
    uint h = bits & 15u;
    float u = h < 8u ? p.x : p.y;
    float v = h < 4u ? p.y : (h == 12u || h == 14u ? p.x : p.z);
    return ((h & 1u) == 1u ? -u : u) + ((h & 2u) == 2u ? -v : v);
  }
  // A place is given as whole cells and what is beyond them, so that no digit is lost far from the origin.
  float noiseAt(vec3 p, ivec3 whole, int seed) {
    vec3 low = floor(p);
    ivec3 cell = ivec3(low) + whole;
    vec3 f = p - low;
    vec3 t = f * f * f * (f * (f * 6.0 - 15.0) + 10.0);
    float total = 0.0;
    for (int k = 0; k < 8; k++) {
      ivec3 c = ivec3(k & 1, (k >> 1) & 1, k >> 2);
      vec3 w = mix(1.0 - t, t, vec3(c));
      total += w.x * w.y * w.z * slopeOf(pcg4d(ivec4(cell + c, seed)).x, f - vec3(c));
    }
    return total;
  }
  float octavesAt(vec3 p, ivec3 whole, int seed, int octaves) {
    float total = 0.0, sum = 0.0, part = 1.0;
    for (int k = 0; k < octaves; k++) {
      total += part * noiseAt(p, whole, seed + k);
      sum += part;
      part *= 0.5;
      p *= 2.0;
      whole *= 2;
    }
    return clamp(0.5 + 0.5 * total / sum, 0.0, 1.0);
  }
`;

/** How near a place is to lines that were sorted into the cells of a grid, texel by texel. */
const LINES = /* glsl */ `
  uniform highp sampler2D linesMap;
  struct Grid { vec3 origin; float cell; ivec3 counts; float soft; ivec3 first; };
  vec4 lineTexel(int at) {
    int width = textureSize(linesMap, 0).x;
    return texelFetch(linesMap, ivec2(at % width, at / width), 0);
  }
  float nearLines(Grid g, vec3 p, vec3 n) {
    ivec3 c = ivec3(floor((p - g.origin) / g.cell));
    if (any(lessThan(c, ivec3(0))) || any(greaterThanEqual(c, g.counts))) return 0.0;
    vec2 held = lineTexel(g.first.x + (c.z * g.counts.y + c.y) * g.counts.x + c.x).xy;
    float best = 0.0;
    int end = int(held.x) + int(held.y);
    for (int row = int(held.x); row < end; row++) {
      int line = g.first.z + 3 * int(lineTexel(g.first.y + row / 4)[row % 4]);
      vec4 a = lineTexel(line);
      vec3 along = lineTexel(line + 1).xyz - a.xyz;
      if (dot(lineTexel(line + 2).xyz, n) < 0.0) continue;
      vec3 off = p - a.xyz;
      float square = dot(along, along);
      float at = square > 0.0 ? clamp(dot(off, along) / square, 0.0, 1.0) : 0.0;
      float beyond = length(off - at * along) - a.w;
      best = max(best, beyond <= 0.0 ? 1.0 : g.soft > 0.0 ? 1.0 - beyond / g.soft : 0.0);
    }
    return best;
  }
`;

/** What a sheet shows at a point; bend is the gradient of its normals over the surface. */
const SHOWN = /* glsl */ `
  struct Shown { vec3 color; float alpha; vec3 bend; float rough; float metal; float high; float occluded; };
  Shown nothing() { return Shown(vec3(0.0), 0.0, vec3(0.0), 0.0, 0.0, 0.0, 0.0); }
  float fallen(float beyond, float soft) { return beyond <= 0.0 ? 1.0 : soft > 0.0 ? max(1.0 - beyond / soft, 0.0) : 0.0; }
  float easedTo(float x, bool smoothly) { x = clamp(x, 0.0, 1.0); return smoothly ? x * x * (3.0 - 2.0 * x) : x; }
  float betweenOf(float v, float low, float high) {
    return low == high ? float(v >= low) : clamp((v - low) / (high - low), 0.0, 1.0);
  }
  // Its own light of a value, so that the picture shows the value as it is stored.
  vec3 asStored(vec3 v) { return mix(pow((v + 0.055) / 1.055, vec3(2.4)), v / 12.92, vec3(lessThanEqual(v, vec3(0.04045)))); }
  vec3 unit(vec3 v) { return v / max(length(v), 1e-20); }
`;

export const LIBRARY = HASH + NOISE + SHOWN;
export const NEAR_LINES = LINES;
