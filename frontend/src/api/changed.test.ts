// @vitest-environment jsdom
import { afterEach, expect, it, vi } from "vitest";

import { plainFinish } from "../model/plainFinish";
import { changed } from "./changed";
import { measured } from "./project";
import type { Finish, Project, ProjectChange } from "./wire.gen";

const row = (key: string, more: Partial<Finish> = {}): Finish => ({
  ...plainFinish("brick"),
  key,
  laying_key: `laid ${key}`,
  ...more,
});

const project = { id: 1, revision: 3, materials: {}, finishes: [row("F1"), row("F2")] } as unknown as Project;

const change = (more: Partial<ProjectChange>) =>
  ({
    since: 3,
    revision: 4,
    order: null,
    finishes: [],
    model: null,
    materials: null,
    views: null,
    ...more,
  }) as ProjectChange;

const asked: string[] = [];

function answering(figures: Record<string, unknown>) {
  asked.length = 0;
  vi.stubGlobal("fetch", (path: string) => {
    asked.push(path);
    return Promise.resolve({ ok: true, json: () => Promise.resolve(figures) });
  });
}

afterEach(() => vi.unstubAllGlobals());

it("keeps rows that have not changed, takes those that have, and follows the order", () => {
  const turned = row("F2", { turn_deg: 30 });
  const after = changed(project, change({ finishes: [turned, row("F3")], order: ["F3", "F1", "F2"] }));
  expect(after.finishes.map((f) => f.key)).toEqual(["F3", "F1", "F2"]);
  expect(after.finishes[1]).toBe(project.finishes[0]);
  expect(after.finishes[2]).toBe(turned);
  expect([after.revision, after.materials]).toEqual([4, project.materials]);
  expect(changed(project, change({ order: [] })).finishes).toEqual([]);
});

it("asks for the figures of the rows that may have others", async () => {
  const of = (key: string, laying_key = `laid ${key}`) => ({ laying_key });
  answering({ F1: of("F1"), F2: of("F2") });
  const first = await measured(project, undefined);
  expect(asked).toEqual(["/api/projects/1/figures"]);

  answering({ F2: of("F2", "laid anew") });
  const turned = changed(project, change({ finishes: [row("F2", { laying_key: "laid anew" })] }));
  const second = await measured(turned, first);
  expect(asked).toEqual(["/api/projects/1/figures?of=F2"]);
  expect(second).toEqual({ F1: of("F1"), F2: of("F2", "laid anew") });

  answering({ F1: of("F1") });
  const tiled = changed(turned, change({ finishes: [row("F1", { material: "oak" })] }));
  await measured(tiled, second);
  expect(asked).toEqual(["/api/projects/1/figures?of=F1"]);

  answering({});
  const larger = changed(turned, change({ materials: { brick: {} as never } }));
  await measured(larger, second);
  expect(asked).toEqual(["/api/projects/1/figures?of=F1&of=F2"]);

  answering({});
  expect(await measured(turned, second)).toEqual(second);
  expect(asked).toEqual([]);
});
