import { download } from "../../api/download";
import { useFileJob } from "../../fileJobs/useFileJob";

/** From so many rows on the worker makes what holds or draws them, and shows how far it is. */
const MANY_ROWS = 50_000;
/** What is written in no time, however many rows there are. */
const SHORT = ["note", "recipe"];

/** Saves what goes out of a state: at once, or where there are many rows by the worker. */
export function useExport(comparison: string, rows: number) {
  const { state, start, stop } = useFileJob();
  const save = (kind: string, choices: Record<string, string>): Promise<unknown> =>
    rows >= MANY_ROWS && !SHORT.includes(kind)
      ? start({ what: "export", comparison, kind, choices })
      : download(addressOf(comparison, kind, choices));
  return { state, save, stop };
}

/** Where a state's file is. */
export function addressOf(comparison: string, kind: string, choices: Record<string, string>): string {
  return `/api/comparisons/${comparison}/export/${kind}?${new URLSearchParams(choices)}`;
}
