import { put } from "../../api/client";
import type { Recipe, RowCard } from "../../api/generated";

/** The card of a row: asked for once, shown by tip and card. */
export function rowQuery(comparison: string, recipe: Recipe, row: number) {
  return {
    queryKey: ["row", comparison, row, JSON.stringify(recipe)],
    queryFn: () => put<RowCard>("POST", `comparisons/${comparison}/row`, { recipe, row }),
    staleTime: 60_000,
  };
}
