import { sendJson } from "./client";
import type { NumberRead, TypedNumber } from "./wire.gen";

/** A number as it is typed, in mm, degrees or as a factor; the core reads it, with units and sums. */
export async function quantity(text: string, kind: TypedNumber["kind"]): Promise<number> {
  return (await sendJson<NumberRead>("POST", "/quantity", { text, kind } satisfies TypedNumber)).value;
}
