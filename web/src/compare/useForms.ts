import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import { answer, api } from "../api/client";
import type { Recipe } from "../api/generated";

const REST = 250;

/** The recipe in every form with its miniature, asked for in one request once the recipe rests. */
export function useForms(comparison: string, recipe: Recipe | null, drawn: boolean) {
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
  /** A recipe in a form, newly asked for where it changed since the miniatures were drawn. */
  const inForm = useCallback(
    async (asked: Recipe, form: string) =>
      (await client.fetchQuery(query(asked))).find((one) => one.form === form)?.recipe ?? asked,
    [client, query],
  );
  return { forms: data, inForm };
}
