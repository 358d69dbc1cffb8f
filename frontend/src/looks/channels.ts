/** The channels of a material, in the order in which they are looked at. */

import type { Channel } from "../api/wire.gen";

export const CHANNELS: { channel: Channel; text: string }[] = [
  { channel: "base_color", text: "Base color" },
  { channel: "normal", text: "Normal" },
  { channel: "roughness", text: "Roughness" },
  { channel: "metallic", text: "Metal" },
  { channel: "height", text: "Height" },
  { channel: "occlusion", text: "Occlusion" },
];
