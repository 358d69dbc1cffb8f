import type { LookModule } from "./look";

/** The base color alone, without light. */
export const color: LookModule = {
  text: "Color",
  hint: "The base color alone, without light",
  key: "O",
  draws: "pattern",
  paint: { images: "own", lit: false },
  brings: true,
};
