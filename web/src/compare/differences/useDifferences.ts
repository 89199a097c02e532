import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { put } from "../../api/client";
import type { Compared, Recipe } from "../../api/generated";

const REST = 300;

/** How lanes differ, asked for once the recipe rests; null while nothing is asked. */
export function useDifferences(comparison: string, recipe: Recipe, asked: boolean) {
  const [rested, setRested] = useState<Recipe | null>(null);
  useEffect(() => {
    if (!asked) return;
    const timer = setTimeout(() => setRested(recipe), REST);
    return () => clearTimeout(timer);
  }, [recipe, asked]);
  // Only what decides the numbers: another form or colour asks nothing anew.
  const { measure, groups, subgroups, panels, keep, left_out, differences } = rested ?? recipe;
  return useQuery({
    queryKey: [
      "differences",
      comparison,
      JSON.stringify([measure, groups, subgroups, panels, keep, left_out, differences]),
    ],
    queryFn: () => put<Compared>("POST", `comparisons/${comparison}/differences`, { recipe: rested }),
    enabled: asked && rested !== null,
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 60_000,
  });
}
