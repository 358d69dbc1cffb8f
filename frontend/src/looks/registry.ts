/** Every look, in the order in which they are offered. A new one is a module and a line. */

import type { Look } from "../state/look";
import { bare } from "./bare";
import { channel } from "./channel";
import { checker } from "./checker";
import { color } from "./color";
import { finish } from "./finish";
import { grain } from "./grain";
import type { LookModule } from "./look";
import { seams } from "./seams";
import { source } from "./source";
import { stretch } from "./stretch";
import { where } from "./where";

export const LOOKS = { source, finish, color, channel, where, checker, stretch, seams, grain, bare } satisfies Record<
  string,
  LookModule
>;

export const lookOf = (look: Look): LookModule => LOOKS[look];

export const LOOK_CHOICES = (Object.keys(LOOKS) as Look[])
  .filter((look) => !lookOf(look).aside)
  .map((value) => {
    const { text, hint, key } = LOOKS[value];
    return { value, text, hint: `${hint} (${key})` };
  });
