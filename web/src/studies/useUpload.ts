import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useLocation } from "wouter";
import { bring, get, put, Refused, remove } from "../api/client";
import type { Me, UploadState } from "../api/generated";
import { tell } from "../ui/Notices";

const POLL = 400;

/** Where a table goes: into a study, or into a new one. */
export type Target = { study: string } | { newStudy: string };

function pause(ms: number): Promise<void> {
  return new Promise((done) => setTimeout(done, ms));
}

/** Bring a file or pasted cells, follow the reading, and open the comparison it begins. */
export function useUpload() {
  const [state, setState] = useState<{ name: string; progress: number; id: string | null } | null>(null);
  const [, go] = useLocation();
  const client = useQueryClient();

  const refuseLarge = async (file: Blob, name: string) => {
    const { upload_megabytes: most } = await client.ensureQueryData({
      queryKey: ["me"],
      queryFn: () => get<Me>("session"),
    });
    if (file.size <= most * 1e6) return;
    throw new Refused(413, {
      what: `The file is larger than the ${most} MB allowed`,
      where: name,
      remedy: "Keep the rows and columns you need and bring those.",
    });
  };

  const start = async (file: Blob, name: string, target: Target) => {
    setState({ name, progress: 0, id: null });
    try {
      await refuseLarge(file, name);
      const place =
        "study" in target ? `study=${target.study}` : `new_study=${encodeURIComponent(target.newStudy)}`;
      let upload = await bring<UploadState>(`uploads?name=${encodeURIComponent(name)}&${place}`, file);
      while (upload.state === "waiting" || upload.state === "reading") {
        setState({ name, progress: upload.progress, id: upload.id });
        await pause(POLL);
        upload = await get<UploadState>(`uploads/${upload.id}`);
      }
      await client.invalidateQueries({ queryKey: ["studies"] });
      if (upload.fault) await discard(upload, target);
      if (upload.comparison) go(`/comparisons/${upload.comparison}`);
    } catch (error) {
      tell(error);
    } finally {
      setState(null);
    }
  };

  /** A new study that was made for a large file goes when the file is refused. */
  const discard = async (upload: UploadState, target: Target) => {
    if ("newStudy" in target) await remove(`studies/${upload.study}`);
    await client.invalidateQueries({ queryKey: ["studies"] });
    if (upload.fault) throw new Refused(422, { ...upload.fault, where: upload.name });
  };

  const stop = async () => {
    if (state?.id) await put("POST", `uploads/${state.id}/stop`, {}).catch(tell);
  };

  return { state, start, stop };
}

/** A name for a study made from a file. */
export function studyName(file: string): string {
  return file.replace(/\.[^.]+$/, "") || "New study";
}
