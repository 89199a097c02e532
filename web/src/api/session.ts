import { create } from "zustand";

interface SessionState {
  /** Whether the page asks for the password again. */
  over: boolean;
}

/** Whether the session ended while the page was open. */
export const useSession = create<SessionState>(() => ({ over: false }));

let waiting: (() => void)[] = [];

/** Ask for sign-in over the page; done once somebody signed in. */
export function signedInAgain(): Promise<void> {
  useSession.setState({ over: true });
  return new Promise((resolve) => waiting.push(resolve));
}

/** Somebody signed in again: what waited goes on. */
export function goOn(): void {
  useSession.setState({ over: false });
  const now = waiting;
  waiting = [];
  for (const resolve of now) resolve();
}
