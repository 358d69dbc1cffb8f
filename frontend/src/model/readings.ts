/** The ways in which a model's numbers can be read. */

export const UNITS = ["mm", "cm", "m", "in", "ft"].map((unit) => ({ value: unit, text: unit }));

export const UPWARD_AXES = [
  { value: "y", text: "Y up" },
  { value: "z", text: "Z up" },
];
