/** The schedule as it is listed: searched, filtered, put in order and grouped. */

import type { Figures, Finish, Material } from "../../../api/wire.gen";
import type { ScheduleView, SortBy } from "../../../state/scheduleView";

export type Listed =
  | { kind: "row"; finish: Finish }
  | { kind: "material"; material: string; name: string; rows: number; open: boolean };

export interface Known {
  materials: Record<string, Material>;
  figures?: Record<string, Figures>;
}

/** What reads as zero is nothing wrong. */
const SMALLEST_M2 = 0.00005;
const FAR = 0.8;

function isWrong(figures: Figures | undefined): boolean {
  if (!figures) return false;
  return figures.smeared_m2 > SMALLEST_M2 || figures.mirrored_m2 > SMALLEST_M2 || figures.true_share < FAR;
}

/** Whether a row has all the words that are searched for, wherever. */
function matches(finish: Finish, search: string, { materials }: Known): boolean {
  const text = [finish.key, finish.name, materials[finish.material]?.name, finish.pick_words, finish.projection.kind]
    .join(" ")
    .toLowerCase();
  return search
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word));
}

function passes(finish: Finish, { search, filter }: ScheduleView, known: Known): boolean {
  if (search && !matches(finish, search, known)) return false;
  switch (filter) {
    case "all":
      return true;
    case "wrong":
      return finish.on && isWrong(known.figures?.[finish.key]);
    case "nowhere":
      return finish.on && finish.faces === 0;
    case "off":
      return !finish.on;
    default:
      return filter satisfies never;
  }
}

function valueOf(finish: Finish, by: Exclude<SortBy, "order">, { materials, figures }: Known): string | number {
  const measured = figures?.[finish.key];
  switch (by) {
    case "name":
      return finish.name;
    case "material":
      return materials[finish.material]?.name ?? "";
    case "by":
      return finish.projection.kind;
    case "area":
      return finish.area_m2;
    case "true":
      return measured?.true_share ?? 1;
    case "smeared":
      return measured?.smeared_m2 ?? 0;
    case "mirrored":
      return measured?.mirrored_m2 ?? 0;
    case "seams":
      return measured?.seams_m ?? 0;
    default:
      return by satisfies never;
  }
}

const compared = (a: string | number, b: string | number) =>
  typeof a === "string" ? a.localeCompare(String(b), "en", { numeric: true }) : a - Number(b);

/** What is listed, from the first line to the last. */
export function listed(finishes: Finish[], view: ScheduleView, known: Known): Listed[] {
  const rows = finishes.filter((finish) => passes(finish, view, known));
  const { sortBy } = view;
  if (sortBy !== "order") {
    const values = new Map(rows.map((finish) => [finish.key, valueOf(finish, sortBy, known)]));
    const way = view.downwards ? -1 : 1;
    rows.sort((a, b) => way * compared(values.get(a.key)!, values.get(b.key)!));
  } else if (view.downwards) rows.reverse();
  if (!view.grouped) return rows.map((finish) => ({ kind: "row", finish }));
  const groups = new Map<string, Finish[]>();
  for (const finish of rows) groups.set(finish.material, [...(groups.get(finish.material) ?? []), finish]);
  return [...groups].flatMap(([key, own]): Listed[] => {
    const open = !view.foldedMaterials.includes(key);
    const head: Listed = {
      kind: "material",
      material: key,
      name: known.materials[key]?.name ?? key,
      rows: own.length,
      open,
    };
    return [head, ...(open ? own.map((finish): Listed => ({ kind: "row", finish })) : [])];
  });
}
