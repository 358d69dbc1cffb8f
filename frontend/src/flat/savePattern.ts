import { getBytes } from "../api/client";
import type { Finish, Project } from "../api/wire.gen";
import { save } from "../ui/save";

const KINDS = { svg: "image/svg+xml", dxf: "image/vnd.dxf" };

/** Saves the pieces of a finish as a pattern; a refusal is told like any other. */
export async function savePattern(project: Project, finish: Finish, kind: keyof typeof KINDS) {
  const data = await getBytes(`/projects/${project.id}/pattern/${finish.key}.${kind}`);
  save(new Blob([data], { type: KINDS[kind] }), `${project.name} ${finish.key}.${kind}`);
}
