import { send } from "./client";

/** Send JSON and read the answer line by line, each of them JSON; stopped by the signal. */
export async function* lines<T>(path: string, body: unknown, signal: AbortSignal): AsyncGenerator<T> {
  const response = await send("POST", path, JSON.stringify(body), "application/json", signal);
  const reader = response.body?.pipeThrough(new TextDecoderStream()).getReader();
  let rest = "";
  for (;;) {
    const part = await reader?.read();
    if (!part || part.done) break;
    const found = (rest + part.value).split("\n");
    rest = found.pop() ?? "";
    for (const line of found) yield JSON.parse(line) as T;
  }
}
