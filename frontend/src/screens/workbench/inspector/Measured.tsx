import { useFigures } from "../../../api/project";
import type { Finish, Project } from "../../../api/wire.gen";
import { area, counted, metres, mm, percent, plain, ratio } from "../../../ui/numbers";
import { usePicking } from "../picking/usePicking";

/** What is measured of a finish; figures that stand for faces pick them. */
export function Measured({ project, finish }: { project: Project; finish: Finish }) {
  const { data } = useFigures(project);
  const pick = usePicking(project.id);
  const figures = data?.[finish.key];
  if (finish.failed)
    return (
      <p className="text-wrong" role="alert">
        Nothing of this finish is laid: {finish.troubles}.
      </p>
    );
  if (data && !figures && finish.faces > 0)
    return (
      <p className="text-wrong" role="alert">
        This finish could not be measured, so nothing is told of it here. It lies as the view shows it.
      </p>
    );
  if (!figures || finish.faces === 0) return null;
  const fresh = figures.laying_key === finish.laying_key;
  const repeats = (finish.area_m2 * 1e6) / (finish.repeat_mm[0] * finish.repeat_mm[1]);
  const unit = project.materials[finish.material]?.joints?.unit_mm;
  const sized = unit && [0, 1].map((k) => unit[k] && unit[k] * Math.abs(finish.scale[k]!));
  const perSquare = sized?.[0] && sized[1] ? `, ${plain(1e6 / (sized[0] * sized[1]), 1)} units a m²` : "";
  const lines: {
    label: string;
    text: string;
    wrong?: boolean;
    figure?: "untrue" | "smeared" | "mirrored" | "seams";
  }[] = [
    { label: "Area", text: `${area(finish.area_m2)} on ${counted(finish.faces, "face")}` },
    {
      label: "Repeats",
      text: finish.tile
        ? `${plain(repeats, repeats < 10 ? 1 : 0)} of them${perSquare}`
        : `one sheet, ${percent(Math.min(repeats, 1))} of it on the model`,
    },
    {
      label: "True to scale",
      text: `${percent(figures.true_share)} of the area`,
      wrong: figures.true_share < 0.8,
      figure: figures.true_share < 0.9995 ? "untrue" : undefined,
    },
    { label: "Stretch", text: `${ratio(figures.least_stretch)} to ${ratio(figures.greatest_stretch)}` },
    { label: "Smeared", text: area(figures.smeared_m2), wrong: figures.smeared_m2 > 0.00005, figure: "smeared" },
    { label: "Mirrored", text: area(figures.mirrored_m2), wrong: figures.mirrored_m2 > 0.00005, figure: "mirrored" },
    {
      label: "Open seams",
      text: `${metres(figures.seams_m, 2)}, worst gap ${mm(figures.worst_gap_mm)} mm`,
      figure: figures.seams_m > 0.0005 ? "seams" : undefined,
    },
    ...(figures.joints_m > 0.0005
      ? [{ label: "Joints run on", text: `${figures.joints_m.toFixed(2)} m, with another image beyond` }]
      : []),
  ];
  return (
    <>
      <dl className={`grid grid-cols-[6.5rem_1fr] gap-y-0.5 ${fresh ? "" : "opacity-40"}`} data-testid="measured">
        {lines.map(({ label, text, wrong, figure }) => (
          <div key={label} className="contents">
            <dt className="label">{label}</dt>
            <dd className={`figure ${wrong ? "text-wrong" : ""}`}>
              {text}
              {figure && (wrong || figure === "seams" || figure === "untrue") && (
                <button
                  type="button"
                  className="ml-2 underline decoration-dotted underline-offset-2"
                  onClick={() => void pick({ how: "replace", figure: { figure, finish: finish.key } })}
                >
                  pick
                </button>
              )}
            </dd>
          </div>
        ))}
      </dl>
    </>
  );
}
