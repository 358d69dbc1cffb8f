/** Talking to the server. A refusal becomes an ApiError with the server's own sentence. */

import { underway } from "./underway";

export class ApiError extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

async function checked(response: Response): Promise<Response> {
  if (response.ok) return response;
  let sentence = `the server answered ${response.status}`;
  try {
    sentence = ((await response.json()) as { error: string }).error;
  } catch {
    // Not one of our own answers; the status has to do.
  }
  throw new ApiError(response.status, sentence);
}

function asked<T>(path: string, init: RequestInit | undefined, read: (response: Response) => Promise<T>): Promise<T> {
  return underway(answered(path, init).then(read));
}

async function answered(path: string, init?: RequestInit): Promise<Response> {
  try {
    return await checked(await fetch(`/api${path}`, init));
  } catch (error) {
    if (error instanceof ApiError || (error instanceof DOMException && error.name === "AbortError")) throw error;
    throw new ApiError(0, "the server does not answer; your last confirmed edit is safe there");
  }
}

export function getJson<T>(path: string): Promise<T> {
  return asked(path, undefined, (response) => response.json() as Promise<T>);
}

/** The same for what is asked all the time: the page does not count as busy meanwhile. */
export function getJsonQuietly<T>(path: string): Promise<T> {
  return answered(path).then((response) => response.json() as Promise<T>);
}

const bytes = (response: Response) => response.arrayBuffer();

export function getBytes(path: string, signal?: AbortSignal): Promise<ArrayBuffer> {
  return asked(path, { signal }, bytes);
}

export function sendJson<T>(method: string, path: string, body?: unknown): Promise<T> {
  const init = {
    method,
    headers: { "Content-Type": "application/json" },
    body: body === undefined ? undefined : JSON.stringify(body),
  };
  return asked(path, init, async (response) => (response.status === 204 ? undefined : await response.json()) as T);
}

/** Posts JSON and takes arrays back. */
export function askBytes(path: string, body: unknown, signal?: AbortSignal): Promise<ArrayBuffer> {
  const headers = { "Content-Type": "application/json" };
  return asked(path, { method: "POST", headers, body: JSON.stringify(body), signal }, bytes);
}

export function sendForm<T>(path: string, form: FormData): Promise<T> {
  return asked(path, { method: "POST", body: form }, (response) => response.json() as Promise<T>);
}

/** An image no larger than the view takes, without loss. */
export const viewUrl = (sha256: string) => `/api/images/${sha256}?view`;

export const imageUrl = (sha256: string, size?: number) => `/api/images/${sha256}${size ? `?size=${size}` : ""}`;
