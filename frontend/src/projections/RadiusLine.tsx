import type { DatumDrawing, Typed } from "../api/wire.gen";
import { MeasuredLine } from "./MeasuredLine";

interface Props {
  given: number | null;
  measured?: DatumDrawing;
  set: (options: { radius_mm: Typed | null }) => Promise<unknown>;
}

/** The radius of a round projection: measured, or given. */
export function RadiusLine({ given, measured, set }: Props) {
  const found = measured?.projection && "radius_mm" in measured.projection ? measured.projection.radius_mm : null;
  return <MeasuredLine label="Radius" given={given} found={found} set={(radius_mm) => set({ radius_mm })} />;
}
