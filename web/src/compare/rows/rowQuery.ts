import { answer, api } from "../../api/client";
import type { Recipe } from "../../api/generated";

/** The card of a row: asked for once, shown by tip and card. */
export function rowQuery(comparison: string, recipe: Recipe, row: number) {
  return {
    queryKey: ["row", comparison, row, JSON.stringify(recipe)],
    queryFn: () =>
      answer(
        api.POST("/api/comparisons/{comparison_id}/row", {
          params: { path: { comparison_id: comparison } },
          body: { recipe, row },
        }),
      ),
    staleTime: 60_000,
  };
}
