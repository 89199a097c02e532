import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useState } from "react";
import { answer, api } from "../api/client";
import type { InForms, Recipe } from "../api/generated";
import { heldDigests } from "../scene/points";
import { useBenchActions, useBenchState, useRights } from "./store/BenchContext";
import { recipeOf } from "./store/benchStore";
import { bring } from "./store/prefetch";

const REST = 250;
/** After this long those forms are asked for that there was no time for, in ms. */
const LATER = 200;

/** The recipe in every form with its miniature, asked for in one request once the recipe rests. */
export function useForms() {
  const { id: comparison, settleFrom } = useBenchActions();
  const { change, looking } = useRights();
  const recipe = useBenchState(recipeOf);
  const drawn = useBenchState((state) => state.scene !== null);
  // What a form was left with is known once it is kept.
  const kept = useBenchState((state) => looking || state.draft === null);
  const client = useQueryClient();
  // By what it says: a recipe that was just kept comes back as another object, and has rested all the same.
  const shown = useMemo(() => JSON.stringify(recipe), [recipe]);
  const [rested, setRested] = useState<string | null>(null);
  useEffect(() => {
    if (!drawn) return;
    const timer = setTimeout(() => setRested(shown), REST);
    return () => clearTimeout(timer);
  }, [shown, drawn]);
  const query = useCallback(
    (asked: string) => ({
      queryKey: ["in-forms", comparison, asked],
      queryFn: () =>
        answer(
          api.POST("/api/comparisons/{comparison_id}/forms", {
            params: { path: { comparison_id: comparison } },
            body: { recipe: JSON.parse(asked) as Recipe },
          }),
        ),
      staleTime: Number.POSITIVE_INFINITY,
      // What a form was left with belongs to it too: an answer from before is not kept.
      gcTime: 0,
    }),
    [comparison],
  );
  const { data } = useQuery({
    ...query(rested ?? ""),
    enabled: rested !== null && kept,
    placeholderData: keepPreviousData,
    // For some there was no time.
    refetchInterval: ({ state }) => (state.data?.some(({ later }) => later) ? LATER : false),
  });
  /** Change to a form at once, whether or not its miniature is drawn. */
  const choose = useCallback(
    (form: string) => {
      if (!recipe) return;
      const drawn = client.getQueryData<InForms>(query(shown).queryKey);
      const known = drawn?.find((other) => other.form === form)?.recipe;
      if (known) return change(known);
      settleFrom(
        (asked) =>
          answer(
            api.POST("/api/comparisons/{comparison_id}/form/{form}", {
              params: { path: { comparison_id: comparison, form } },
              body: { recipe: asked, have: heldDigests() },
            }),
          ).then(({ recipe: next, scene }) => {
            if (scene) bring(next, scene);
            return next;
          }),
        change,
      );
    },
    [client, query, recipe, shown, change, settleFrom, comparison],
  );
  return { forms: data, choose };
}
