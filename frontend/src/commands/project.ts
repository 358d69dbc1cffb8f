import type { Command, ProjectContext } from "./command";

export const UNDO: Command<ProjectContext> = {
  id: "undo",
  name: "Undo",
  key: "Ctrl+Z",
  hindrance: ({ project }) => (project.undo ? null : "nothing to undo"),
  run: ({ step }) => step("undo"),
};

export const REDO: Command<ProjectContext> = {
  id: "redo",
  name: "Redo",
  key: "Ctrl+Shift+Z",
  hindrance: ({ project }) => (project.redo ? null : "nothing to redo"),
  run: ({ step }) => step("redo"),
};

/** What works on every screen of a project. */
export const PROJECT: Command<ProjectContext>[] = [UNDO, REDO, { ...REDO, id: "redo-too", key: "Ctrl+Y" }];
