import { useCallback, useEffect, useRef, useState } from "react";
import { get, put, Refused } from "../api/client";
import { download } from "../api/download";
import type { AskOutgoing, OutgoingState } from "../api/generated";
import { tell } from "../ui/Notices";

const POLL = 400;

/** A file that the worker makes: asked for, followed, stopped, saved once it is there. */
export function useOutgoing() {
  const [state, setState] = useState<OutgoingState | null>(null);
  const left = useRef(false);
  useEffect(() => {
    left.current = false;
    return () => {
      left.current = true;
    };
  }, []);
  const start = useCallback(async (asked: AskOutgoing) => {
    try {
      let now = await put<OutgoingState>("POST", "outgoing", asked);
      while (now.state === "waiting" || now.state === "working") {
        setState(now);
        await new Promise((done) => setTimeout(done, POLL));
        // Nobody waits for it any more.
        if (left.current) return void put("POST", `outgoing/${now.id}/stop`, {}).catch(() => null);
        now = await get<OutgoingState>(`outgoing/${now.id}`);
      }
      if (now.state === "done") await download(`/api/outgoing/${now.id}/file`);
      if (now.fault) throw new Refused(422, now.fault);
    } catch (fault) {
      tell(fault);
    } finally {
      setState(null);
    }
  }, []);
  const stop = useCallback(() => {
    if (state) put("POST", `outgoing/${state.id}/stop`, {}).catch(tell);
  }, [state]);
  return { state, start, stop };
}
