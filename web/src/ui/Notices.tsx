import { Toast } from "radix-ui";
import { create } from "zustand";
import { Refused } from "../api/client";
import type { Fault } from "../api/generated";
import { useSession } from "../api/session";

interface Action {
  name: string;
  run: () => void;
}

/** What is said: ways out are actions here. */
type Said = Omit<Fault, "mends">;

interface Notice {
  id: number;
  fault: Said;
  actions: Action[];
  /** What it is about: it goes when that is changed. */
  about: string;
}

interface NoticeList {
  notices: Notice[];
  add: (fault: Said, actions?: Action[], about?: string) => void;
  close: (id: number) => void;
  /** Close what is about something that changed. */
  over: (about: string) => void;
}

let last = 0;

export const useNotices = create<NoticeList>((set) => ({
  notices: [],
  add: (fault, actions = [], about = "") =>
    set(({ notices }) => {
      last += 1;
      const notice: Notice = { id: last, fault, actions, about };
      return { notices: [...notices.filter((n) => n.fault.what !== fault.what), notice] };
    }),
  over: (about) =>
    set(({ notices }) => {
      const left = notices.filter((notice) => notice.about !== about);
      return left.length === notices.length ? {} : { notices: left };
    }),
  close: (id) => set(({ notices }) => ({ notices: notices.filter((n) => n.id !== id) })),
}));

/** Say an error once, in the server's words. */
export function tell(error: unknown, actions: Action[] = [], about = ""): void {
  // Sign-in opens over the page and says it there.
  if (error instanceof Refused && error.status === 401) {
    useSession.setState({ over: true });
    return;
  }
  const fault =
    error instanceof Refused
      ? error.fault
      : { what: "Something went wrong in the page", where: "", remedy: "Reload it." };
  if (!(error instanceof Refused)) console.error(error);
  useNotices.getState().add(fault, actions, about);
}

/** Errors at the foot of the page: what, where, remedy. They stay until closed. */
export function Notices() {
  const { notices, close } = useNotices();
  return (
    <Toast.Provider duration={Number.POSITIVE_INFINITY} label="Notice">
      {notices.map(({ id, fault, actions }) => (
        <Toast.Root
          key={id}
          type="foreground"
          onOpenChange={(open) => !open && close(id)}
          className="flex items-start gap-4 rounded-md border-l-4 border-accent bg-warn-ground p-4 shadow-float"
        >
          <Toast.Description className="flex-1 text-warn" data-testid="notice">
            {fault.where && !fault.where.startsWith("$") && <span className="text-ink">{fault.where}: </span>}
            <strong>{fault.what}.</strong> <span className="text-ink">{fault.remedy}</span>
          </Toast.Description>
          {actions.map((action) => (
            <Toast.Action
              key={action.name}
              altText={action.name}
              className="text-left font-bold text-petrol"
              onClick={action.run}
            >
              {action.name}
            </Toast.Action>
          ))}
          <Toast.Close className="text-muted" aria-label="Close this notice">
            ✕
          </Toast.Close>
        </Toast.Root>
      ))}
      <Toast.Viewport className="fixed bottom-4 left-1/2 z-50 flex w-[42rem] max-w-[94vw] -translate-x-1/2 flex-col gap-2" />
    </Toast.Provider>
  );
}
