import createClient, { type Middleware } from "openapi-fetch";
import type { Fault, paths } from "./generated";

/** A refusal by the server: what is wrong, where, and what to do. */
export class Refused extends Error {
  readonly fault: Fault;

  constructor(
    readonly status: number,
    fault: Omit<Fault, "mends"> & Partial<Pick<Fault, "mends">>,
    /** After so many seconds it is worth asking again, where the server says so. */
    readonly again: number | null = null,
  ) {
    super(fault.what);
    this.fault = { mends: [], ...fault };
  }
}

/** Whether files are being counted for what was asked: it is worth asking again soon. */
export function isBeingCounted(fault: unknown): boolean {
  return fault instanceof Refused && fault.status === 425;
}

/** Whether what was asked for takes too long for one answer: the worker makes it. */
export function isLong(fault: unknown): boolean {
  return fault instanceof Refused && fault.status === 425 && fault.again === null;
}

/** What is said where nobody answers. */
export const UNREACHED: Fault = {
  what: "The server did not answer",
  where: "",
  remedy: "What is kept is kept, and a change stays on this page. Check that the server runs.",
  mends: [],
};

/** The token that every change carries. */
export function csrfToken(): string {
  return /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? "";
}

/** What an answer refuses. */
async function refusalOf(response: Response): Promise<Refused> {
  const fault = await response.json().catch(() => UNREACHED);
  const again = response.headers.get("Retry-After");
  return new Refused(response.status, fault as Fault, again === null ? null : Number(again));
}

/** A file that the server makes. A refusal is thrown. */
export async function fileAt(path: string): Promise<Response> {
  const response = await fetch(path);
  if (!response.ok) throw await refusalOf(response);
  return response;
}

const refusals: Middleware = {
  onRequest({ request }) {
    // What is only read goes without, so that an answer the page fetched before is taken.
    if (request.method !== "GET") request.headers.set("X-CSRFToken", csrfToken());
  },
  async onResponse({ response }) {
    if (!response.ok) throw await refusalOf(response);
  },
  onError({ error, request }) {
    return request.signal.aborted ? (error as Error) : new Refused(0, UNREACHED);
  },
};

/** The server's endpoints; a path carries the types of what it takes and gives. A refusal is thrown, and says what to do. */
export const api = createClient<paths>({
  baseUrl: globalThis.location?.origin ?? "",
  fetch: (request) => globalThis.fetch(request),
});
api.use(refusals);

/** What a call was answered with. */
export async function answer<T>(call: Promise<{ data?: T }>): Promise<T> {
  return (await call).data as T;
}

/** What a call that brings bytes takes. */
export const asBytes = {
  headers: { "Content-Type": "application/octet-stream" },
  bodySerializer: (bytes: unknown) => bytes as Blob,
};
