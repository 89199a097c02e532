import { useCallback, useEffect, useRef, useState } from "react";
import { answer, api, Refused } from "../api/client";
import { download } from "../api/download";
import type { AskFileJob, FileJobState } from "../api/generated";
import { tell } from "../ui/Notices";

const POLL = 400;

/** A file that the worker makes: asked for, followed, stopped, saved once it is there. */
export function useFileJob() {
  const [state, setState] = useState<FileJobState | null>(null);
  const left = useRef(false);
  useEffect(() => {
    left.current = false;
    return () => {
      left.current = true;
    };
  }, []);
  const start = useCallback(async (asked: AskFileJob) => {
    try {
      let now = await answer(api.POST("/api/file-jobs", { body: asked }));
      while (now.state === "waiting" || now.state === "working") {
        setState(now);
        await new Promise((done) => setTimeout(done, POLL));
        // Nobody waits for it any more.
        if (left.current)
          return void answer(
            api.POST("/api/file-jobs/{file_job_id}/stop", { params: { path: { file_job_id: now.id } } }),
          ).catch(() => null);
        now = await answer(api.GET("/api/file-jobs/{file_job_id}", { params: { path: { file_job_id: now.id } } }));
      }
      if (now.state === "done") await download(`/api/file-jobs/${now.id}/file`);
      if (now.fault) throw new Refused(422, now.fault);
    } catch (fault) {
      tell(fault);
    } finally {
      setState(null);
    }
  }, []);
  const stop = useCallback(() => {
    if (state)
      answer(api.POST("/api/file-jobs/{file_job_id}/stop", { params: { path: { file_job_id: state.id } } })).catch(
        tell,
      );
  }, [state]);
  return { state, start, stop };
}
