import { useState } from "react";
import { answer, api } from "../../api/client";
import type { Remedy, StepState } from "../../api/generated";
import { Button } from "../../ui/Button";
import { tell } from "../../ui/Notices";
import { say } from "../../words";
import { withValue } from "../recipe";
import { useBenchActions, useRights, useShown } from "../store/BenchContext";
import { useAdvice } from "./useAdvice";

type Step = StepState["step"];

const MOST_OPEN = 1;

/** What the figure may hide: why, from where, and what can be done about it in one press. */
export function AdvicePanel() {
  const { comparison, recipe } = useShown();
  const { looking, change: onSettle } = useRights();
  const { id, saveMeta, takeNewest } = useBenchActions();
  const advice = useAdvice();
  const { dismissed } = comparison;
  const onDismiss = (key: string, gone: boolean) => {
    const body = { key, dismissed: gone };
    const params = { path: { comparison_id: id } };
    saveMeta(answer(api.PUT("/api/comparisons/{comparison_id}/dismissed", { params, body })));
  };
  /** Add a step to the table's preparation, and draw over it. */
  const addStep = async (added: Step) => {
    const of = { params: { path: { table_id: comparison.newer?.table ?? comparison.table } } };
    const table = await answer(api.GET("/api/tables/{table_id}", of));
    const steps = [...table.outcome.steps.map((step) => step.step), added];
    const params = { path: { table_id: table.id } };
    await answer(
      api.POST("/api/tables/{table_id}/preparation", { params, body: { revision: table.revision, steps } }),
    );
    takeNewest();
  };
  const onStep = (step: Step) => void addStep(step).catch(tell);
  const [all, setAll] = useState(false);
  const fresh = advice.filter((remark) => !dismissed.includes(remark.key));
  const gone = advice.length - fresh.length;
  const shown = all ? advice : fresh.slice(0, MOST_OPEN);
  const rest = fresh.length - MOST_OPEN;
  const apply = (remedy: Remedy) => {
    if (remedy.step) onStep(remedy.step as unknown as Step);
    else onSettle(remedy.changes.reduce((made, change) => withValue(made, change.path, change.value), recipe));
  };
  if (advice.length === 0) return null;
  return (
    <section aria-label="Advice" className="mx-4 mt-3 grid grid-cols-[minmax(0,1fr)] gap-2">
      {shown.map((item) => (
        <div
          key={item.key}
          data-advice={item.key}
          className={`border-l-4 border-accent bg-warn-ground px-3 py-2 ${dismissed.includes(item.key) ? "opacity-60" : ""}`}
        >
          <div className="flex items-start gap-2">
            <p className="flex-1">
              <strong className="text-warn">{item.text}</strong> {item.why}
              {item.source && <span className="text-muted"> ({item.source})</span>}
            </p>
            {!looking && (
              <button
                type="button"
                className="text-muted hover:text-ink"
                aria-label={dismissed.includes(item.key) ? `Show again: ${item.text}` : `Dismiss: ${item.text}`}
                title={dismissed.includes(item.key) ? "Show again" : "Dismiss for this comparison"}
                onClick={() => onDismiss(item.key, !dismissed.includes(item.key))}
              >
                {dismissed.includes(item.key) ? "↺" : "✕"}
              </button>
            )}
          </div>
          {item.remedies.length > 0 && (
            <p className="mt-0.5 flex flex-wrap gap-x-3">
              {item.remedies
                .filter((remedy) => !(looking && remedy.step))
                .map((remedy) => (
                  <Button
                    key={remedy.words}
                    look="quiet"
                    className="!p-0 text-left !whitespace-normal"
                    onClick={() => apply(remedy)}
                  >
                    {remedy.words}
                  </Button>
                ))}
            </p>
          )}
        </div>
      ))}
      {(all || rest > 0 || gone > 0) && (
        <Button look="quiet" className="justify-self-start !p-0 !font-normal" onClick={() => setAll(!all)}>
          {all ? "Less advice" : moreWords(Math.max(rest, 0), gone)}
        </Button>
      )}
    </section>
  );
}

function moreWords(rest: number, gone: number): string {
  const parts = [
    rest > 0 ? say("advice-rest", { count: rest }) : "",
    gone > 0 ? say("advice-dismissed", { count: gone }) : "",
  ];
  return parts.filter(Boolean).join(", ");
}
