import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answer, api } from "../../api/client";
import type { AskRows, Recipe, RowsOfFigure } from "../../api/generated";

/** Which rows are looked at: those in no number for a reason, or those brushed. */
export type Looked =
  | { aside: NonNullable<AskRows["aside"]>; words: string }
  | { keys: number[] }
  | { spans: AskRows["spans"] };

/** Rows of the figure, by their keys, with lane and value; cells come with the list's windows. */
export function useRows(comparison: string, recipe: Recipe | null, looked: Looked | null): RowsOfFigure | null {
  const { data } = useQuery({
    queryKey: ["rows-of", comparison, JSON.stringify([recipe, looked])],
    queryFn: () => rowsOf(comparison, recipe as Recipe, looked as Looked, 0, 0),
    enabled: looked !== null && recipe !== null,
    placeholderData: keepPreviousData,
    gcTime: 30_000,
  });
  return looked ? (data ?? null) : null;
}

/** A window of rows. */
export function rowsOf(comparison: string, recipe: Recipe, looked: Looked, start: number, count: number) {
  const which = "aside" in looked ? { aside: looked.aside } : looked;
  return answer(
    api.POST("/api/comparisons/{comparison_id}/rows", {
      params: { path: { comparison_id: comparison } },
      body: { recipe, ...which, start, count } as AskRows,
    }),
  );
}
