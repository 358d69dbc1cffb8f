// @vitest-environment jsdom

import { expect, test } from "vitest";

import { giveKeysBack } from "./keysBack";

function chosen(...before: Event[]): boolean {
  document.body.innerHTML = "<select><option>a</option><option>b</option></select>";
  const list = document.querySelector("select")!;
  list.focus();
  for (const event of before) list.dispatchEvent(event);
  list.dispatchEvent(new Event("change", { bubbles: true }));
  return document.activeElement === list;
}

test("a list keeps the keyboard when it is stepped through by keys, and gives it back to the pointer", () => {
  giveKeysBack(document);
  const down = new MouseEvent("mousedown", { bubbles: true });
  const key = new KeyboardEvent("keydown", { key: "ArrowDown", bubbles: true });
  expect(chosen(key)).toBe(true);
  expect(chosen(down)).toBe(false);
  expect(chosen(down, key)).toBe(true);
});
