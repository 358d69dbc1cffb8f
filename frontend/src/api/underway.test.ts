// @vitest-environment jsdom
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { underway } from "./underway";

const page = document.documentElement;
const stated = () => [page.hasAttribute("data-underway"), page.hasAttribute("data-waiting")];

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

it("what comes soon is no wait, and what takes long is one until it has come", async () => {
  let soon = () => {};
  const first = underway(new Promise<void>((done) => (soon = done)));
  expect(stated()).toEqual([true, false]);
  vi.advanceTimersByTime(400);
  soon();
  await first;
  expect(stated()).toEqual([false, false]);

  let late = () => {};
  const second = underway(new Promise<void>((done) => (late = done)));
  vi.advanceTimersByTime(400);
  expect(stated()).toEqual([true, false]);
  vi.advanceTimersByTime(200);
  expect(stated()).toEqual([true, true]);
  late();
  await second;
  expect(stated()).toEqual([false, false]);
});

it("one answer after the other, with never a moment without one on its way, is one wait", async () => {
  let end = () => {};
  const whole = underway(new Promise<void>((done) => (end = done)));
  vi.advanceTimersByTime(300);
  await underway(Promise.resolve());
  vi.advanceTimersByTime(300);
  expect(stated()).toEqual([true, true]);
  end();
  await whole;
  expect(stated()).toEqual([false, false]);
});
