/** What has been asked for and has not come yet, stated at the page's root as long as there is any, and whether it takes long. */

/** From when on a wait is shown as one. */
const LONG_MS = 500;

let count = 0;
let wait: number | undefined;

/** Counts a request until its answer is read whole, or refused. */
export async function underway<T>(answer: Promise<T>): Promise<T> {
  changed(1);
  try {
    return await answer;
  } finally {
    changed(-1);
  }
}

function changed(by: number) {
  const before = count;
  count += by;
  if (before > 0 === count > 0) return;
  const page = document.documentElement;
  page.toggleAttribute("data-underway", count > 0);
  window.clearTimeout(wait);
  page.removeAttribute("data-waiting");
  if (count > 0) wait = window.setTimeout(() => page.setAttribute("data-waiting", ""), LONG_MS);
}
