import { sendJson } from "./client";

/** A number as it is typed, in mm, degrees or as a factor; the core reads it, with units and sums. */
export async function quantity(text: string, kind: "length" | "angle" | "share"): Promise<number> {
  return (await sendJson<{ value: number }>("POST", "/quantity", { text, kind })).value;
}
