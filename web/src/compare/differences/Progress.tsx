import { useEffect, useState } from "react";
import type { DifferencesProgress } from "../../api/generated";
import { Button } from "../../ui/Button";

const SOON = 700;

/** How far work has come, said only where it takes long; it can be stopped. */
export function Progress({ step, onStop }: { step: DifferencesProgress | null; onStop: () => void }) {
  const [long, setLong] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setLong(true), SOON);
    return () => clearTimeout(timer);
  }, []);
  if (!long) return null;
  const done = step?.done ?? 0;
  const of = step?.of ?? 0;
  return (
    <div className="mt-2 flex items-center gap-2" role="status">
      <progress className="h-2 min-w-0 flex-1 accent-petrol" value={done} max={of || 1} aria-label="Pieces done" />
      <span className="number whitespace-nowrap text-muted">{of ? `${done} of ${of} done` : "begins"}</span>
      <Button look="quiet" className="!p-0" onClick={onStop}>
        Stop
      </Button>
    </div>
  );
}
