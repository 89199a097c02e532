import type { FallbackProps } from "react-error-boundary";
import { Button } from "./Button";

/** What stands where a part of the page failed: which it is, and a way on. */
export function Fallen({ place, error, resetErrorBoundary }: FallbackProps & { place: string }) {
  const why = error instanceof Error ? error.message : String(error);
  return (
    <div
      role="alert"
      className="m-3 grid justify-items-start gap-2 rounded bg-warn-ground p-3 text-[13px] text-warn"
    >
      <p>
        Something went wrong in {place}: {why}. What was kept is kept.
      </p>
      <div className="flex gap-3">
        <Button onClick={resetErrorBoundary}>Try it again</Button>
        <Button look="quiet" onClick={() => window.location.reload()}>
          Reload the page
        </Button>
      </div>
    </div>
  );
}
