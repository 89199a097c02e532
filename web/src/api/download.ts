import { Refused } from "./client";

/** Save a file that the server makes; its answer's headers come back. */
export async function download(path: string): Promise<Headers> {
  const response = await fetch(path);
  if (!response.ok) throw new Refused(response.status, await response.json());
  const name = /filename="([^"]+)"/.exec(response.headers.get("Content-Disposition") ?? "")?.[1] ?? "file";
  const link = document.createElement("a");
  link.href = URL.createObjectURL(await response.blob());
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
  return response.headers;
}
