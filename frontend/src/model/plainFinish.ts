import type { Finish, Material } from "../api/wire.gen";

/** A finish that nothing has been done to, for pictures of a material or of a trial. */
export function plainFinish(material: Material["key"], more: Partial<Finish> = {}): Finish {
  return {
    key: "plain",
    name: "plain",
    material,
    pick_words: "",
    projection: { kind: "box", corners: "separate", size_mm: null },
    datum: null,
    datum_for: "pick",
    grain: { along: "sheet", direction: null },
    run_on: false,
    variation: null,
    adjust: [],
    one_sheet: true,
    turn_deg: 0,
    grain_deg: null,
    offset_mm: [0, 0],
    scale: [1, 1],
    tile: true,
    repeat_mm: [1, 1],
    faces: 0,
    held: true,
    troubles: "",
    tie: [],
    tie_by: "turn",
    area_m2: 0,
    laying_key: "",
    on: true,
    tint: null,
    cells: null,
    coats: [],
    over: [],
    lines_key: null,
    ...more,
  };
}
