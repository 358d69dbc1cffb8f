/** The ways in which a model's numbers can be read. */

import type { Unit, Upward } from "../api/wire.gen";

export const UNITS = (["mm", "cm", "m", "in", "ft"] as Unit[]).map((unit) => ({ value: unit, text: unit }));

export const UPWARD_AXES: { value: Upward; text: string }[] = [
  { value: "y", text: "Y up" },
  { value: "z", text: "Z up" },
];
