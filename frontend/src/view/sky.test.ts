import { Vector3 } from "three";
import { describe, expect, it } from "vitest";

import { LIGHT_START } from "../state/look";
import { daylight, sunDirection } from "./sky";

/** A level card's luminance by another way: many random directions, weighed by their cosine. */
function cardUnder(light: typeof LIGHT_START): [number, number, number] {
  const { radiance, sun } = daylight(light);
  const sum: [number, number, number] = [0, 0, 0];
  const count = 40_000;
  for (let k = 0; k < count; k++) {
    const round = 2 * Math.PI * ((k * 0.618034) % 1);
    const flat = Math.sqrt((k + 0.5) / count);
    const from = radiance(new Vector3(flat * Math.cos(round), flat * Math.sin(round), Math.sqrt(1 - flat * flat)));
    from.forEach((part, channel) => (sum[channel]! += part / count));
  }
  const direct = (sun.strength / Math.PI) * sunDirection(light).z;
  return sum.map((part, channel) => part + direct * sun.color[channel]!) as [number, number, number];
}

describe("the light of the view", () => {
  it("gives a level white card a luminance of 1, and no color of its own", () => {
    for (const light of [LIGHT_START, { ...LIGHT_START, up_deg: 70 }, { ...LIGHT_START, overcast: true }]) {
      for (const channel of cardUnder(light)) expect(channel).toBeCloseTo(1, 2);
    }
  });

  it("is dimmer with a low sun, and never darker than the sky alone", () => {
    const low = daylight({ ...LIGHT_START, up_deg: 8 }).level;
    expect(low).toBeLessThan(0.7);
    expect(low).toBeGreaterThan(0.4);
  });

  it("comes from where the sun is said to stand", () => {
    const sun = sunDirection({ sun_deg: 90, up_deg: 30, overcast: false });
    expect(sun.x).toBeCloseTo(0, 6);
    expect(sun.y).toBeCloseTo(Math.cos(Math.PI / 6), 6);
    expect(sun.z).toBeCloseTo(0.5, 6);
  });

  it("under an overcast sky is three times as bright from above as from the horizon", () => {
    // CIE overcast sky: L = Lz (1 + 2 sin h) / 3 (Moon and Spencer 1942), which type 1 of the general sky follows within
    // a fifth.
    const { radiance } = daylight({ ...LIGHT_START, overcast: true });
    const at = (deg: number) =>
      radiance(new Vector3(Math.cos((deg * Math.PI) / 180), 0, Math.sin((deg * Math.PI) / 180)))[1];
    for (const deg of [20, 45, 70]) {
      const moonSpencer = (1 + 2 * Math.sin((deg * Math.PI) / 180)) / 3;
      expect(Math.abs(at(deg) / at(90) / moonSpencer - 1)).toBeLessThan(0.2);
    }
  });
});
