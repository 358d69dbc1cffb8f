/** A project as an answer says that it has changed. */

import type { Project, ProjectChange } from "./wire.gen";

/** The project after a change; rows that have not changed stay the very same, so that nobody draws them anew. */
export function changed(before: Project, change: ProjectChange): Project {
  const { order, finishes, model, materials, pick_sets, views } = change;
  const rows = new Map([...before.finishes, ...finishes].map((finish) => [finish.key, finish]));
  return {
    ...before,
    name: change.name,
    revision: change.revision,
    aside: change.aside,
    undo: change.undo,
    redo: change.redo,
    cover_key: change.cover_key,
    bare: change.bare,
    said: change.said,
    model: model ?? before.model,
    materials: materials ?? before.materials,
    pick_sets: pick_sets ?? before.pick_sets,
    views: views ?? before.views,
    finishes: (order ?? before.finishes.map((finish) => finish.key)).map((key) => rows.get(key)!),
  };
}
