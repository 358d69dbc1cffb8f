/** The one way in which what was asked of the server, and refused, is told. */

import { useNotices } from "./notices";

/** The sentence of whatever was thrown. */
export const sentenceOf = (error: unknown) => (error instanceof Error ? error.message : String(error));

/** Tells as a notice what went wrong with something that has no field of its own to show it at. */
export const tellError = (error: unknown) => useNotices.getState().tell(sentenceOf(error));

/** Does something, and tells what goes wrong with it. over: done at last, whether it went well or not. */
export function attempt<T>(doing: Promise<T> | (() => Promise<T>), then?: (done: T) => void, over?: () => void) {
  const begun = typeof doing === "function" ? doing() : doing;
  void begun.then(then).catch(tellError).finally(over);
}
