import { PLAIN_PAINT, type LookModule } from "./look";

/** The materials as they are laid. */
export const finish: LookModule = {
  text: "Finish",
  hint: "The materials as they are laid",
  key: "F",
  draws: "pattern",
  paint: PLAIN_PAINT,
  brings: true,
};
