/**
 * A list that was chosen from with the pointer gives the keyboard back: else the next key, meant for the model, would choose
 * another line of the list. Whoever steps through a list by keys keeps it.
 */
export function giveKeysBack(page: Document) {
  let byHand = false;
  for (const type of ["pointerdown", "mousedown"]) page.addEventListener(type, () => (byHand = true), true);
  page.addEventListener("keydown", () => (byHand = false), true);
  page.addEventListener("change", ({ target }) => byHand && target instanceof HTMLSelectElement && target.blur());
}
