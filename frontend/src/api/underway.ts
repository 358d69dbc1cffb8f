/** What has been asked for and has not come yet, shown at the page's root as long as there is any. */

let count = 0;

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
  count += by;
  document.documentElement.toggleAttribute("data-underway", count > 0);
}
