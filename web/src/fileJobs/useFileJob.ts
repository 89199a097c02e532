import { useCallback, useEffect, useRef, useState } from "react";
import { answer, api, fileAt, Refused } from "../api/client";
import { saveFile } from "../api/download";
import type { AskFileJob, FileJobState } from "../api/generated";
import { tell } from "../ui/Notices";

const POLL = 400;

/** A file that the worker makes: asked for, followed, stopped, brought or saved once it is there. */
export function useFileJob() {
  const [state, setState] = useState<FileJobState | null>(null);
  const left = useRef(false);
  useEffect(() => {
    left.current = false;
    return () => {
      left.current = true;
    };
  }, []);
  /** The file; null where it was stopped, or where nobody waits for it any more. A refusal is thrown. */
  const bring = useCallback(async (asked: AskFileJob, signal?: AbortSignal): Promise<Response | null> => {
    try {
      let now = await answer(api.POST("/api/file-jobs", { body: asked }));
      while (now.state === "waiting" || now.state === "working") {
        setState(now);
        await new Promise((done) => setTimeout(done, POLL));
        if (left.current || signal?.aborted) {
          await stopped(now.id).catch(() => null);
          return null;
        }
        now = await answer(api.GET("/api/file-jobs/{file_job_id}", { params: { path: { file_job_id: now.id } } }));
      }
      const refused = now.fault && new Refused(422, now.fault);
      if (now.state !== "done") {
        if (refused) throw refused;
        return null;
      }
      if (refused) tell(refused);
      return await fileAt(`/api/file-jobs/${now.id}/file`);
    } finally {
      setState(null);
    }
  }, []);
  const start = useCallback(
    (asked: AskFileJob) =>
      bring(asked)
        .then((file) => file && saveFile(file))
        .catch(tell),
    [bring],
  );
  const stop = useCallback(() => {
    if (state) stopped(state.id).catch(tell);
  }, [state]);
  return { state, bring, start, stop };
}

function stopped(id: string): Promise<FileJobState> {
  return answer(api.POST("/api/file-jobs/{file_job_id}/stop", { params: { path: { file_job_id: id } } }));
}
