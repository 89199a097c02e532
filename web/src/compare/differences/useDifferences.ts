import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { answer, api } from "../../api/client";
import type { DifferencesProgress, LaneDifferences, Recipe } from "../../api/generated";
import { lines } from "../../api/lines";

const REST = 300;

/** How lanes differ, asked for once the recipe rests, pair by pair; the work can be stopped. */
export function useDifferences(comparison: string, recipe: Recipe) {
  const [rested, setRested] = useState<Recipe | null>(null);
  const [step, setStep] = useState<DifferencesProgress | null>(null);
  const client = useQueryClient();
  useEffect(() => {
    const timer = setTimeout(() => setRested(recipe), REST);
    return () => clearTimeout(timer);
  }, [recipe]);
  // Only what decides the numbers: another form or colour asks nothing anew.
  const { measure, groups, subgroups, panels, keep, left_out, differences } = rested ?? recipe;
  const { drawn: _, ...asked } = differences ?? { drawn: false };
  const queryKey = [
    "differences",
    comparison,
    JSON.stringify([measure, groups, subgroups, panels, keep, left_out, asked]),
  ];
  const query = useQuery({
    queryKey,
    queryFn: async ({ signal }): Promise<LaneDifferences> => {
      setStep(null);
      const stream = await answer(
        api.POST("/api/comparisons/{comparison_id}/differences", {
          params: { path: { comparison_id: comparison } },
          body: { recipe: rested as Recipe },
          parseAs: "stream",
          signal,
        }),
      );
      for await (const line of lines<DifferencesProgress>(stream)) {
        if (line.found) return line.found;
        setStep(line);
      }
      throw new Error("The server stopped before the end");
    },
    enabled: rested !== null,
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 60_000,
  });
  return { ...query, step, stop: () => client.cancelQueries({ queryKey }) };
}
