import { csrfToken, Refused, UNREACHED } from "./client";
import type { Fault } from "./generated";

/** Send a large file and tell how much of it is sent; stopped by the signal. Refusals are thrown as the client throws them. */
export function sendFile<T>(
  path: string,
  file: Blob,
  onSent: (share: number) => void,
  signal: AbortSignal,
): Promise<T> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open("POST", path);
    request.setRequestHeader("Content-Type", "application/octet-stream");
    request.setRequestHeader("X-CSRFToken", csrfToken());
    request.upload.onprogress = (event) => onSent(event.loaded / Math.max(event.total, 1));
    request.onerror = () => reject(new Refused(0, UNREACHED));
    request.onabort = () => reject(new DOMException("stopped", "AbortError"));
    request.onload = () => {
      const body = parsed(request.responseText);
      if (request.status < 400 && body) resolve(body as T);
      else reject(new Refused(request.status, (body as Fault | null) ?? UNREACHED));
    };
    signal.addEventListener("abort", () => request.abort());
    request.send(file);
  });
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
