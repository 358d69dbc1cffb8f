import { AlertTriangle } from "lucide-react";

import type { FigureName, Figures, Finish } from "../../../api/wire.gen";
import { area, metres, mm, percent } from "../../../ui/numbers";
import type { MeasuredId } from "./columns";

const DOTTED = "underline decoration-dotted underline-offset-2";

interface Props {
  id: MeasuredId;
  finish: Finish;
  figures?: Figures;
  onFigure: (key: string, figure: FigureName) => void;
}

/** One figure that was measured of a finish; where faces stand behind it, it picks them. */
export function MeasuredCell({ id, finish, figures, onFigure }: Props) {
  if (!figures || finish.faces === 0) return <>–</>;
  switch (id) {
    case "true":
      if (figures.true_share > 0.9995) return <>{percent(figures.true_share)}</>;
      return (
        <button
          type="button"
          className={`${DOTTED} ${figures.true_share < 0.8 ? "text-wrong" : ""}`}
          title="Pick the faces that are not true to scale within 5 %"
          onClick={() => onFigure(finish.key, "untrue")}
        >
          {percent(figures.true_share)}
        </button>
      );
    case "smeared":
    case "mirrored": {
      const m2 = id === "smeared" ? figures.smeared_m2 : figures.mirrored_m2;
      if (m2 <= 0.00005) return <>–</>;
      return (
        <button
          type="button"
          title={id === "smeared" ? "Pick the smeared faces" : "Pick the faces that show the material mirrored"}
          onClick={() => onFigure(finish.key, id)}
          className={`inline-flex items-center gap-1 text-wrong ${DOTTED}`}
        >
          <AlertTriangle size={13} aria-hidden /> {area(m2)}
        </button>
      );
    }
    case "seams":
      if (figures.seams_m > 0.0005)
        return (
          <button
            type="button"
            className={DOTTED}
            title={`Worst gap ${mm(figures.worst_gap_mm)} mm. Pick the faces at these seams`}
            onClick={() => onFigure(finish.key, "seams")}
          >
            {metres(figures.seams_m, 2)}
          </button>
        );
      if (figures.joints_m <= 0.0005) return <>–</>;
      return (
        <span
          className="text-faint"
          title={`The images differ at ${figures.joints_m.toFixed(2)} m of edges, but the joints run on`}
        >
          joints
        </span>
      );
    default:
      return id satisfies never;
  }
}
