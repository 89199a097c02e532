import { Refused } from "./client";

/** Save a file that the server makes; its answer's headers come back. */
export async function download(path: string): Promise<Headers> {
  const response = await fetch(path);
  if (!response.ok) throw new Refused(response.status, await response.json());
  const link = document.createElement("a");
  link.href = URL.createObjectURL(await response.blob());
  link.download = fileName(response.headers.get("Content-Disposition") ?? "");
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
  return response.headers;
}

/** The file's name in a Content-Disposition (RFC 6266), plain or with its letters coded. */
export function fileName(header: string): string {
  const coded = /filename\*=utf-8''([^;]+)/i.exec(header)?.[1];
  return coded ? decodeURIComponent(coded) : (/filename="([^"]+)"/.exec(header)?.[1] ?? "file");
}
