import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import { answer, api } from "../api/client";
import type { Recipe } from "../api/generated";
import { tell } from "../ui/Notices";
import { useBenchActions, useBenchState, useRights } from "./store/BenchContext";
import { recipeOf } from "./store/benchStore";

const REST = 250;

/** The recipe in every form with its miniature, asked for in one request once the recipe rests. */
export function useForms() {
  const { id: comparison } = useBenchActions();
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
      gcTime: 60_000,
    }),
    [comparison],
  );
  const { data } = useQuery({
    ...query(rested ?? ({} as Recipe)),
    enabled: rested !== null,
    placeholderData: keepPreviousData,
  });
  /** Change to a form, newly asked for where the recipe changed since the miniatures were drawn. */
  const choose = useCallback(
    (form: string) => {
      if (!recipe) return;
      const inForm = client
        .fetchQuery(query(recipe))
        .then((forms) => forms.find((other) => other.form === form)?.recipe);
      void inForm.then((next) => change(next ?? recipe), tell);
    },
    [client, query, recipe, change],
  );
  return { forms: data, choose };
}
