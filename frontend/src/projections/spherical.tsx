import type { LinesProps, ProjectionPanel } from "./panel";
import { RadiusLine } from "./RadiusLine";

function Lines({ projection, measured, set }: LinesProps<"spherical">) {
  return <RadiusLine given={projection.radius_mm} measured={measured} set={set} />;
}

export const spherical: ProjectionPanel<"spherical"> = {
  text: "Spherical",
  hint: "Round a centre by longitude and latitude: domes and balls",
  start: { kind: "spherical", radius_mm: null },
  byFace: true,
  round: true,
  hasDatum: true,
  fits: ["upright axes"],
  Lines,
};
