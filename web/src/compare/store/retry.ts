import { Refused } from "../../api/client";
import { signedInAgain } from "../../api/session";

/** What passes: no answer, no session, files that are being counted, a database or a disk that is away for a while. */
const PASSING = [0, 401, 425, 502, 503, 504, 507];
const FIRST = 1_000;
const LONGEST = 15_000;

/** Whether the same may be asked again later. */
export function passes(fault: unknown): fault is Refused {
  return fault instanceof Refused && PASSING.includes(fault.status);
}

/** Ask until there is an answer or a refusal that stays; ``say`` is told why it waits, and null when it waits no longer. */
export async function untilAnswered<T>(ask: () => Promise<T>, say: (why: string | null) => void): Promise<T> {
  for (let pause = FIRST; ; pause = Math.min(pause * 2, LONGEST)) {
    try {
      const result = await ask();
      say(null);
      return result;
    } catch (fault) {
      if (!passes(fault)) {
        say(null);
        throw fault;
      }
      say(fault.fault.what);
      await (fault.status === 401 ? signedInAgain() : rest(fault.again === null ? pause : fault.again * 1_000));
    }
  }
}

/** A while, or until the browser says that the network is back. */
function rest(pause: number): Promise<void> {
  return new Promise((resolve) => {
    const done = () => {
      clearTimeout(timer);
      window.removeEventListener("online", done);
      resolve();
    };
    const timer = setTimeout(done, pause);
    window.addEventListener("online", done);
  });
}
