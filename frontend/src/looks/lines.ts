/** Edges at which joints run on: not a fault, and not drawn like one. */
export const JOINTS = "#5f7a94";
