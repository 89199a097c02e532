import { useCallback } from "react";
import type { RowsOfFigure } from "../../api/generated";
import type { Brushed } from "../sheet/Figure";
import { useBenchActions, useBenchState } from "../store/BenchContext";
import { type Looked, useRows } from "./useRows";

/** The rows that were brushed or asked for: they stay selected while the figure takes other forms. */
export function useSelection(): {
  looked: Looked | null;
  rows: RowsOfFigure | null;
  brush: (brushed: Brushed, add: boolean) => void;
  clear: () => void;
} {
  const { id, look } = useBenchActions();
  // Rows are asked for by what is settled: a drag asks for figures alone.
  const recipe = useBenchState((state) => state.comparison?.recipe ?? null);
  const looked = useBenchState((state) => state.looked);
  const answered = useRows(id, recipe, looked);
  const rows = answered && (answered.total > 0 || (looked && "aside" in looked)) ? answered : null;
  // A part of a lane is turned into its rows, so that they stay selected in another form.
  const held = looked && "spans" in looked && answered ? { keys: answered.keys } : looked;
  const brush = useCallback(
    (brushed: Brushed, add: boolean) => {
      const before = add && held && "keys" in held ? held.keys : [];
      if ("keys" in brushed) {
        const keys = [...new Set([...before, ...brushed.keys])];
        look({ looked: keys.length ? { keys } : null });
      } else look({ looked: brushed });
    },
    [held, look],
  );
  return { looked: rows && held, rows, brush, clear: useCallback(() => look({ looked: null }), [look]) };
}
