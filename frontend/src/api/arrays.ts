/** Arrays that came with an answer before anybody asked for them: whoever asks for their address takes them from here. */

import { getBytes } from "./client";

let waiting = new Map<string, ArrayBuffer>();

/** What came last, by address under another; nobody will ask for what came before it any more. */
export function keepArrays(under: string, arrays: Map<string, ArrayBuffer>) {
  waiting = new Map([...arrays].map(([path, bytes]) => [under + path, bytes]));
}

/** Whether the bytes of an address have come already. */
export const hasArray = (path: string) => waiting.has(path);

/** The bytes of an address, each time from here once and else from the server. */
export async function bytesOf(path: string, signal?: AbortSignal): Promise<ArrayBuffer> {
  const here = waiting.get(path);
  waiting.delete(path);
  return here ?? (await getBytes(path, signal));
}
