/** Values of a store that outlive the page, as long as its window is open. */

import type { StoreApi } from "zustand";

/** The values of these names as they were remembered; nothing where there are none. */
export function remembered<T>(key: string, names: readonly (keyof T)[]): Partial<T> {
  try {
    const held = JSON.parse(globalThis.sessionStorage?.getItem(key) ?? "{}") as Partial<T>;
    return Object.fromEntries(names.filter((name) => name in held).map((name) => [name, held[name]])) as Partial<T>;
  } catch {
    return {};
  }
}

/** Remembers the values of these names whenever one of them changes. */
export function rememberIn<T>(store: StoreApi<T>, key: string, names: readonly (keyof T)[]) {
  store.subscribe((now, before) => {
    if (names.every((name) => now[name] === before[name])) return;
    const held = Object.fromEntries(names.map((name) => [name, now[name]]));
    globalThis.sessionStorage?.setItem(key, JSON.stringify(held));
  });
}
