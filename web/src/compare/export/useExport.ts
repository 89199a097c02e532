import { fileAt, isLong } from "../../api/client";
import { saveFile } from "../../api/download";
import { useFileJob } from "../../fileJobs/useFileJob";

/** From so many rows on the worker makes what holds or draws them, and shows how far it is. */
const MANY_ROWS = 50_000;
/** What is written in no time, however many rows there are. */
const SHORT = ["note", "recipe"];

/** Brings or saves what goes out of a state: at once, or where that takes long by the worker. */
export function useExport(comparison: string, rows: number) {
  const job = useFileJob();
  const byWorker = (kind: string, choices: Record<string, string>) =>
    job.bring({ what: "export", comparison, kind, choices });
  /** The file; null where it was stopped. A refusal is thrown. */
  const bring = (kind: string, choices: Record<string, string>): Promise<Response | null> =>
    fileAt(addressOf(comparison, kind, choices)).catch((fault) => {
      if (!isLong(fault)) throw fault;
      return byWorker(kind, choices);
    });
  const save = async (kind: string, choices: Record<string, string>): Promise<void> => {
    const many = rows >= MANY_ROWS && !SHORT.includes(kind);
    const file = await (many ? byWorker(kind, choices) : bring(kind, choices));
    if (file) await saveFile(file);
  };
  return { state: job.state, bring, save, stop: job.stop };
}

/** Where a state's file is. */
export function addressOf(comparison: string, kind: string, choices: Record<string, string>): string {
  return `/api/comparisons/${comparison}/export/${kind}?${new URLSearchParams(choices)}`;
}
