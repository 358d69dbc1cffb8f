import { describe, expect, it } from "vitest";

import { keyNames } from "./command";
import { PROJECT } from "./project";
import { WORKBENCH } from "./registry";

const pressed = (key: string, held: Partial<KeyboardEvent> = {}) => ({ key, ...held }) as KeyboardEvent;

describe("the commands", () => {
  it("are told apart by their ids, and by their keys but for the one that Escape means first", () => {
    const all = [...WORKBENCH, ...PROJECT];
    expect(new Set(all.map((c) => c.id)).size).toBe(all.length);
    const keys = all.map((c) => c.key).filter((key) => key !== undefined && key !== "Esc");
    expect(new Set(keys).size).toBe(keys.length);
    expect(WORKBENCH.filter((c) => c.key === "Esc").map((c) => c.id)).toEqual(["leave-task", "pick-none"]);
  });

  it("each have a name", () => expect(WORKBENCH.every((c) => c.name.length > 3)).toBe(true));
});

describe("a key", () => {
  it("is named as its command shows it", () => {
    expect(keyNames(pressed("t"))).toEqual(["T"]);
    expect(keyNames(pressed("T", { shiftKey: true }))).toEqual(["Shift+T"]);
    expect(keyNames(pressed("z", { ctrlKey: true }))).toEqual(["Ctrl+Z"]);
    expect(keyNames(pressed("Z", { metaKey: true, shiftKey: true }))).toEqual(["Ctrl+Shift+Z"]);
    expect(keyNames(pressed("Escape"))).toEqual(["Esc"]);
  });

  it("that needs Shift to be typed is the same sign", () => {
    expect(keyNames(pressed("+", { shiftKey: true }))).toContain("+");
    expect(keyNames(pressed("+"))).toEqual(["+"]);
  });
});
