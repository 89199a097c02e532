import type { Fault } from "./generated";

/** A refusal by the server: what is wrong, where, and what to do. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    readonly fault: Fault,
  ) {
    super(fault.what);
  }
}

const UNREACHED: Fault = {
  what: "The server did not answer",
  where: "",
  remedy: "Nothing was lost. Check that it runs and try again.",
};

/** The token that every change carries. */
export function csrfToken(): string {
  return /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? "";
}

/** A request with the token of changes; a refusal becomes an error that says what to do. */
export async function send(method: string, path: string, body?: BodyInit, type?: string, signal?: AbortSignal) {
  // What is only read goes without, so that an answer the page fetched ahead is taken.
  const headers = new Headers(method === "GET" ? {} : { "X-CSRFToken": csrfToken() });
  if (type) headers.set("Content-Type", type);
  let response: Response;
  try {
    response = await fetch(`/api/${path}`, { method, headers, body: body ?? null, signal: signal ?? null });
  } catch (error) {
    if (signal?.aborted) throw error;
    throw new Refused(0, UNREACHED);
  }
  if (response.ok) return response;
  const fault = await response.json().catch(() => UNREACHED);
  throw new Refused(response.status, fault as Fault);
}

/** Read JSON. */
export async function get<T>(path: string): Promise<T> {
  return (await send("GET", path)).json();
}

/** Send JSON and read the answer. */
export async function put<T>(method: "POST" | "PUT" | "PATCH", path: string, body: unknown): Promise<T> {
  return (await send(method, path, JSON.stringify(body), "application/json")).json();
}

/** Remove something. */
export async function remove(path: string): Promise<void> {
  await send("DELETE", path);
}

/** Bring bytes. */
export async function bring<T>(path: string, bytes: Blob): Promise<T> {
  return (await send("POST", path, bytes, "application/octet-stream")).json();
}
