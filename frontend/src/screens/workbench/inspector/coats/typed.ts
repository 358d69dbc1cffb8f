import { quantity } from "../../../../api/quantity";

/** Reads a number as it is typed, for what is changed as a whole. */
export const readMm = (text: string) => quantity(text, "length");
export const readDegrees = (text: string) => quantity(text, "angle");
export const readShare = (text: string) => quantity(text, "share");

/** A share from 0 to 1; zero and percent are read here. */
export async function readUnit(text: string): Promise<number> {
  return Number(text) === 0 ? 0 : readShare(text);
}
