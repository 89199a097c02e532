import type { Fault, Outcome } from "../api/generated";
import { Button } from "../ui/Button";
import { say, spaced } from "../words";
import { StepFieldRow } from "./StepFieldRow";
import { fieldsOf, formOf, lacking, type StepContext, type StepRecord, withValue } from "./steps";
import type { Draft } from "./useTable";

interface Props {
  table: string;
  draft: Draft;
  context: StepContext;
  before: Outcome | undefined;
  outcome: Outcome | undefined;
  fault: Fault | null;
  steps: StepRecord[];
  onChange: (step: StepRecord) => void;
  onTake: () => void;
  onCancel: () => void;
}

/** A step being written, with what it would do; the table below already shows it. */
export function StepEditor(props: Props) {
  const { draft, context, before, outcome, fault, onChange, onTake, onCancel } = props;
  const form = formOf(draft.step.step);
  const needs = lacking(draft.step);
  const state = needs ? undefined : outcome?.steps[draft.at];
  const stopped = fault ?? (state?.rows === null && outcome?.stopped ? outcome.stopped : null);
  return (
    <form
      aria-label={form.title}
      className="shrink-0 border-b border-hairline bg-sheet px-5 py-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (!stopped && state) onTake();
      }}
      onKeyDown={(event) => event.key === "Escape" && onCancel()}
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
                onChange={(value) => onChange(withValue(draft.step, field.key, value, context))}
                keysOf={{ table: props.table, step: draft.step, steps: props.steps.slice(0, draft.at) }}
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
            <Button look="quiet" onClick={onCancel}>
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
