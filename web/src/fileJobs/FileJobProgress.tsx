import type { FileJobState } from "../api/generated";
import { Button } from "../ui/Button";

/** How far a file is, and a way to stop it. */
export function FileJobProgress({ state, onStop }: { state: FileJobState; onStop: () => void }) {
  return (
    <div className="flex items-center gap-2" role="status">
      <progress
        className="h-2 min-w-0 flex-1 accent-petrol"
        value={state.of ? state.done : undefined}
        max={state.of || 1}
        aria-label="Figures drawn"
      />
      <span className="number whitespace-nowrap text-muted">
        {state.state === "waiting" ? "waits its turn" : state.of ? `${state.done} of ${state.of}` : "begins"}
      </span>
      <Button look="quiet" className="!p-0" onClick={onStop}>
        Stop
      </Button>
    </div>
  );
}
