import { fileAt } from "./client";

/** Save a file that the server makes; its answer's headers come back. */
export async function download(path: string): Promise<Headers> {
  const response = await fileAt(path);
  await saveFile(response);
  return response.headers;
}

/** Save a file that came. */
export async function saveFile(response: Response): Promise<void> {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(await response.blob());
  link.download = fileName(response.headers.get("Content-Disposition") ?? "");
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
}

/** The file's name in a Content-Disposition (RFC 6266), plain or with its letters coded. */
export function fileName(header: string): string {
  const coded = /filename\*=utf-8''([^;]+)/i.exec(header)?.[1];
  return coded ? decodeURIComponent(coded) : (/filename="([^"]+)"/.exec(header)?.[1] ?? "file");
}
