import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useLocation } from "wouter";
import { answer, api } from "../api/client";
import type { StudyCards } from "../api/generated";
import { Button } from "../ui/Button";
import { tell } from "../ui/Notices";
import { useSteps } from "./useSteps";

/** For a new person: a short way in on the real bench; gone for good when it is done or sent away. */
export function FirstSteps({ studies }: { studies: StudyCards }) {
  const client = useQueryClient();
  const { data: me } = useQuery({ queryKey: ["me"], queryFn: () => answer(api.GET("/api/session")) });
  const go = useSteps((state) => state.go);
  const [, open] = useLocation();
  const first = firstOf(studies);
  if (!me?.first_steps || !first) return null;
  const away = () =>
    void answer(api.PATCH("/api/session", { body: { first_steps: false } })).then(
      (now) => client.setQueryData(["me"], now),
      tell,
    );
  return (
    <section
      aria-label="A short way in"
      className="mt-5 flex flex-wrap items-center gap-x-5 gap-y-2 rounded-lg border-l-4 border-accent bg-sheet px-5 py-3"
    >
      <p className="min-w-0 flex-1">
        <strong>New here?</strong> Five steps on a real figure show the way: another form, another question, the row
        behind a point, the trail, the way out.
      </p>
      <Button
        onClick={() => {
          go(0);
          open(`/comparisons/${first}`);
        }}
      >
        Show me
      </Button>
      <Button look="quiet" className="!p-0 !font-normal" onClick={away}>
        Not needed
      </Button>
    </section>
  );
}

/** The first figure there is. */
function firstOf(studies: StudyCards): string | null {
  return studies.find((study) => study.comparisons.length > 0)?.comparisons[0]?.id ?? null;
}
