/** Edits of finishes, as panels put them together. */

import type { Edit } from "./wire.gen";

type Without<T> = T extends unknown ? Omit<T, "finishes"> : never;

/** A change of finishes, without saying of which. */
export type FinishChange = Without<Exclude<Extract<Edit, { finishes: string[] }>, { kind: "remove" }>>;

/** The edit that changes these finishes so. */
export const changing = (finishes: string[], what: FinishChange) => ({ ...what, finishes }) as Edit;
