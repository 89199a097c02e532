/** The lines of a streamed answer, each of them JSON. */
export async function* lines<T>(stream: ReadableStream<Uint8Array> | null): AsyncGenerator<T> {
  const reader = stream
    ?.pipeThrough(new TextDecoderStream() as unknown as TransformStream<Uint8Array, string>)
    .getReader();
  let rest = "";
  for (;;) {
    const part = await reader?.read();
    if (!part || part.done) break;
    const whole = (rest + part.value).split("\n");
    rest = whole.pop() ?? "";
    for (const line of whole) yield JSON.parse(line) as T;
  }
}
