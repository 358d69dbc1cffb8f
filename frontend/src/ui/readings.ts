/** The ways in which a model's numbers can be read. */

export const UNITS = (["mm", "cm", "m", "in", "ft"] as const).map((unit) => ({ value: unit, text: unit }));

export const UPWARD_AXES = [
  { value: "y" as const, text: "Y up" },
  { value: "z" as const, text: "Z up" },
];
