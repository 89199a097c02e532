import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { configure } from "@testing-library/react";
import type { ReactNode } from "react";
import { vi } from "vitest";

// Machines under load take their time.
configure({ asyncUtilTimeout: 10_000 });

export interface Asked {
  /** Such as "POST comparisons/c1/trail". */
  what: string;
  body: unknown;
}

type Answer = unknown | ((body: unknown) => unknown);

/** An answer with a status of its own. */
export function refusal(status: number, what: string): Response {
  return new Response(JSON.stringify({ what, where: "", remedy: "Try again." }), { status });
}

/** A server that knows these addresses, and what it was asked in order. An answer may be a function of the body. */
export function serve(answers: Record<string, Answer>) {
  const asked: Asked[] = [];
  vi.stubGlobal("fetch", async (input: Request | string) => {
    const request = typeof input === "string" ? new Request(new URL(input, window.location.origin)) : input;
    const what = `${request.method} ${request.url.replace(/^.*?\/api\//, "")}`;
    const type = request.headers.get("Content-Type") ?? "";
    const body = type.includes("json") ? await request.json() : type ? await request.blob() : undefined;
    asked.push({ what, body });
    if (!(what in answers)) return refusal(404, `Nobody answers ${what}`);
    const answer = answers[what];
    const made = await (typeof answer === "function" ? answer(body) : answer);
    return made instanceof Response ? made : new Response(JSON.stringify(made));
  });
  return {
    asked,
    of: (what: string) => asked.filter((one) => one.what === what).map(({ body }) => body),
    answer: (what: string, next: Answer) => {
      answers[what] = next;
    },
  };
}

/** An answer that comes when it is told to. */
export function later<T>() {
  let give: (value: T) => void = () => undefined;
  const promise = new Promise<T>((done) => {
    give = done;
  });
  return { promise, give };
}

/** Around a hook: queries that are asked once. */
export function around() {
  const client = new QueryClient({
    defaultOptions: { queries: { retry: false, staleTime: Number.POSITIVE_INFINITY } },
  });
  return ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={client}>{children}</QueryClientProvider>
  );
}
