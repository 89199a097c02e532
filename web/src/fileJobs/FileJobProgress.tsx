import type { FileJobState } from "../api/generated";
import { Button } from "../ui/Button";

/** How far a file is, and a way to stop it. */
export function FileJobProgress({ state, onStop }: { state: FileJobState; onStop: () => void }) {
  return (
    <div className="flex max-w-xl items-center gap-2" role="status">
      <progress
        className="h-2 min-w-0 flex-1 accent-petrol"
        value={state.of ? state.done : 0}
        max={state.of || 1}
        aria-label="Figures drawn"
      />
      <span className="number whitespace-nowrap text-muted">{words(state)}</span>
      <Button look="quiet" className="!p-0" onClick={onStop}>
        Stop
      </Button>
    </div>
  );
}

function words({ state, done, of }: FileJobState): string {
  if (state === "waiting") return "waits its turn";
  if (of) return `${done} of ${of}`;
  return done ? `${done} s so far` : "begins";
}
