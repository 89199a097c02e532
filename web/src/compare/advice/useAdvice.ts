import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { answer, api } from "../../api/client";
import type { Advice, Recipe } from "../../api/generated";
import { useBenchActions, useBenchState } from "../store/BenchContext";
import { recipeOf } from "../store/benchStore";

const REST = 500;
/** What is missing from the figure is said before what it may mean. */
const FIRST = [
  "no-rows",
  "thinned",
  "thinned-outliers",
  "out-of-view",
  "guides",
  "magnified",
  "unwritable",
  "units",
];

/** The advice that comes with the scene, and what takes longer, asked for once the recipe rests. */
export function useAdvice(): Advice[] {
  const { id: comparison } = useBenchActions();
  const recipe = useBenchState(recipeOf);
  const scene = useBenchState((state) => state.scene);
  const [rested, setRested] = useState<Recipe | null>(null);
  const drawn = scene !== null;
  useEffect(() => {
    if (!drawn || !recipe) return;
    const timer = setTimeout(() => setRested(recipe), REST);
    return () => clearTimeout(timer);
  }, [recipe, drawn]);
  const { data } = useQuery({
    queryKey: ["advice", comparison, JSON.stringify(rested)],
    queryFn: () =>
      answer(
        api.POST("/api/comparisons/{comparison_id}/advice", {
          params: { path: { comparison_id: comparison } },
          body: { recipe: rested as Recipe },
        }),
      ),
    enabled: rested !== null,
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
  });
  const deep = rested === recipe ? (data ?? []) : [];
  const quick = scene?.advice ?? [];
  const first = quick.filter((remark) => FIRST.includes(remark.key));
  return [...first, ...deep, ...quick.filter((remark) => !FIRST.includes(remark.key))];
}
