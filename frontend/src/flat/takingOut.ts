/** What is taken out of the flat view as files, and brought back into it. */

import { getBytes, sendForm } from "../api/client";
import type { Edit, Finish, FlatPicture, PaintedPicture, PatternAsked, Project } from "../api/wire.gen";
import { save } from "../ui/save";

/** The files of a pattern: what they end in, and their media type. */
export const PATTERNS = {
  svg: { text: "SVG", suffix: ".svg", mime: "image/svg+xml" },
  dxf: { text: "DXF", suffix: ".dxf", mime: "image/vnd.dxf" },
  a4: { text: "PDF, A4", suffix: " A4.pdf", mime: "application/pdf" },
  a3: { text: "PDF, A3", suffix: " A3.pdf", mime: "application/pdf" },
  obj: { text: "OBJ", suffix: " flat.obj", mime: "model/obj" },
} as const;

export type PatternKind = keyof typeof PATTERNS;

type Asked = PatternAsked | FlatPicture;

/** The address of something that is asked for with options; those that are left open are left out. */
export function asking(path: string, asked: Asked): string {
  const given = Object.entries(asked).filter(([, value]) => value !== null && value !== undefined);
  return `${path}?${new URLSearchParams(given.map(([name, value]) => [name, String(value)]))}`;
}

export const patternPath = (project: Project, finish: Finish, kind: PatternKind | "boards.json") =>
  `/projects/${project.id}/pattern/${finish.key}/${kind}`;

export async function savePattern(project: Project, finish: Finish, kind: PatternKind, asked: PatternAsked) {
  const data = await getBytes(asking(patternPath(project, finish, kind), asked));
  const { suffix, mime } = PATTERNS[kind];
  const boards = asked.width_mm ? " boards" : "";
  if (asked.each && boards)
    save(new Blob([data], { type: "application/zip" }), `${project.name} ${finish.key} boards.zip`);
  else save(new Blob([data], { type: mime }), `${project.name} ${finish.key}${boards}${suffix}`);
}

export async function saveFlatPicture(project: Project, finish: Finish, asked: FlatPicture) {
  const data = await getBytes(asking(`/projects/${project.id}/flat/${finish.key}.png`, asked));
  save(new Blob([data], { type: "image/png" }), `${project.name} ${finish.key} flat.png`);
}

/** Takes a painted picture in as a material; the edit that lays it at its place, and what the artist should know. */
export async function bringPainted(
  project: Project,
  finish: Finish,
  file: File,
  asked: FlatPicture,
): Promise<{ edit: Edit; said: string }> {
  const form = new FormData();
  form.append("files", file);
  const told = await sendForm<PaintedPicture>(
    asking(`/projects/${project.id}/flat/${finish.key}/painted`, asked),
    form,
  );
  const edit: Edit = { kind: "lay_picture", finish: finish.key, material: told.material, low_mm: told.low_mm };
  return { edit, said: told.said };
}
