import { Button } from "../ui/Button";
import { say, spaced } from "../words";
import { StepFieldRow } from "./StepFieldRow";
import { fieldsOf, formOf, lacking, withValue } from "./steps";
import { useOutcome, useStepContext, useTableActions } from "./store/TableContext";
import type { Draft } from "./store/tableStore";

/** A step being written, with what it would do; the table below already shows it. */
export function StepEditor({ draft }: { draft: Draft }) {
  const { id, settle, write, cancel } = useTableActions();
  const { settled, steps, before, outcome, fault } = useOutcome();
  const context = useStepContext();
  const form = formOf(draft.step.step);
  const needs = lacking(draft.step);
  const state = needs ? undefined : outcome.steps[draft.at];
  const stopped = fault ?? (state?.rows === null && outcome.stopped ? outcome.stopped : null);
  return (
    <form
      aria-label={form.title}
      className="shrink-0 border-b border-hairline bg-sheet px-5 py-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (!stopped && state) void settle(steps);
      }}
      onKeyDown={(event) => event.key === "Escape" && cancel()}
    >
      <div className="flex items-start gap-6">
        <div className="min-w-0 flex-1">
          <h2 className="font-bold">
            {form.title} <span className="ml-2 text-[13px] font-normal text-muted">{form.help}</span>
          </h2>
          <div className="mt-2 flex flex-wrap items-start gap-x-5 gap-y-2">
            {fieldsOf(draft.step).map((field) => (
              <StepFieldRow
                key={field.key}
                field={field}
                value={(draft.step as Record<string, unknown>)[field.key]}
                context={context}
                onChange={(value) => write(withValue(draft.step, field.key, value, context))}
                keysOf={{ table: id, step: draft.step, steps: settled.slice(0, draft.at) }}
              />
            ))}
          </div>
        </div>
        <div className="w-64 shrink-0 text-right">
          <p className="text-[13px]" aria-live="polite" data-testid="step-effect">
            {stopped ? (
              <span className="text-warn">
                {stopped.what}. <span className="text-ink">{stopped.remedy}</span>
              </span>
            ) : state && before ? (
              <>
                <strong className="number">{spaced(before.rows)}</strong> →{" "}
                <strong className="number">{say("count-rows", { count: state.rows ?? 0 })}</strong>
                <span className="block text-muted">{state.note}</span>
              </>
            ) : (
              <span className="text-muted">{needs ? `Fill in: ${needs}` : "…"}</span>
            )}
          </p>
          <div className="mt-2 flex justify-end gap-2">
            <Button look="quiet" onClick={cancel}>
              Cancel
            </Button>
            <Button type="submit" disabled={stopped !== null || !state} className="disabled:opacity-50">
              {draft.added ? "Take this step" : "Keep the change"}
            </Button>
          </div>
        </div>
      </div>
    </form>
  );
}
