import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { answer, api } from "../../api/client";
import { useSteps } from "../../help/useSteps";
import { Button } from "../../ui/Button";
import { useBenchActions } from "../store/BenchContext";
import { STEPS } from "./steps";

/** Under the sentence: the step that a new person is at. Doing it leads to the next. */
export function StepBar() {
  const client = useQueryClient();
  const { step, go } = useSteps();
  const { store } = useBenchActions();
  useEffect(() => {
    if (step === null) return;
    return store.subscribe((now, before) => {
      if (STEPS[step]?.done(now, before)) go(step + 1);
    });
  }, [step, store, go]);
  if (step === null) return null;
  const end = () => {
    go(null);
    void answer(api.PATCH("/api/session", { body: { first_steps: false } })).then(
      (now) => client.setQueryData(["me"], now),
      () => undefined,
    );
  };
  const over = step >= STEPS.length;
  return (
    <p
      role="status"
      aria-label="A short way in"
      className="flex items-baseline gap-4 border-b border-hairline bg-warn-ground px-5 py-1.5 text-[13px]"
    >
      <strong>{over ? "That was the way" : `${step + 1} of ${STEPS.length}`}</strong>
      <span className="flex-1">
        {over
          ? "Help (or ?) says what the words mean, wherever you are. Now bring a table of your own."
          : STEPS[step]?.words}
      </span>
      {!over && (
        <Button look="quiet" className="!p-0 !font-normal" onClick={() => go(step + 1)}>
          Next
        </Button>
      )}
      <Button look="quiet" className="!p-0 !font-normal" onClick={end}>
        {over ? "Close" : "Leave it"}
      </Button>
    </p>
  );
}
