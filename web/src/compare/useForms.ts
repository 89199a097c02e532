import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import { answer, api } from "../api/client";
import type { InForms, Recipe } from "../api/generated";
import { useBenchActions, useBenchState, useRights } from "./store/BenchContext";
import { recipeOf } from "./store/benchStore";

const REST = 250;

/** The recipe in every form with its miniature, asked for in one request once the recipe rests. */
export function useForms() {
  const { id: comparison, settleFrom } = useBenchActions();
  const { change } = useRights();
  const recipe = useBenchState(recipeOf);
  const drawn = useBenchState((state) => state.scene !== null);
  const client = useQueryClient();
  const [rested, setRested] = useState<Recipe | null>(null);
  useEffect(() => {
    if (!drawn || !recipe) return;
    const timer = setTimeout(() => setRested(recipe), REST);
    return () => clearTimeout(timer);
  }, [recipe, drawn]);
  const query = useCallback(
    (asked: Recipe) => ({
      queryKey: ["in-forms", comparison, JSON.stringify(asked)],
      queryFn: () =>
        answer(
          api.POST("/api/comparisons/{comparison_id}/forms", {
            params: { path: { comparison_id: comparison } },
            body: { recipe: asked },
          }),
        ),
      staleTime: Number.POSITIVE_INFINITY,
      // What a form was left with belongs to it too: an answer from before is not kept.
      gcTime: 0,
    }),
    [comparison],
  );
  const { data } = useQuery({
    ...query(rested ?? ({} as Recipe)),
    enabled: rested !== null,
    placeholderData: keepPreviousData,
  });
  /** Change to a form at once, whether or not its miniature is drawn. */
  const choose = useCallback(
    (form: string) => {
      if (!recipe) return;
      const drawn = client.getQueryData<InForms>(query(recipe).queryKey);
      const known = drawn?.find((other) => other.form === form)?.recipe;
      if (known) return change(known);
      settleFrom(
        (asked) =>
          answer(
            api.POST("/api/comparisons/{comparison_id}/form/{form}", {
              params: { path: { comparison_id: comparison, form } },
              body: { recipe: asked },
            }),
          ),
        change,
      );
    },
    [client, query, recipe, change, settleFrom, comparison],
  );
  return { forms: data, choose };
}
