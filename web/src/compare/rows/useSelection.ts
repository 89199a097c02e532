import { useCallback, useState } from "react";
import type { Recipe, RowsOfFigure } from "../../api/generated";
import type { Brushed } from "../sheet/Figure";
import { type Looked, useRows } from "./useRows";

/** The rows that were brushed or asked for: they stay selected while the figure takes other forms. */
export function useSelection(comparison: string, recipe: Recipe | null) {
  const [looked, setLooked] = useState<Looked | null>(null);
  const found = useRows(comparison, recipe, looked);
  const rows: RowsOfFigure | null = found && (found.total > 0 || (looked && "aside" in looked)) ? found : null;
  // A part of a lane is turned into its rows, so that they stay selected in another form.
  const held = looked && "spans" in looked && found ? { keys: found.keys } : looked;
  const brush = useCallback(
    (brushed: Brushed, add: boolean) => {
      const before = add && held && "keys" in held ? held.keys : [];
      if ("keys" in brushed) {
        const keys = [...new Set([...before, ...brushed.keys])];
        setLooked(keys.length ? { keys } : null);
      } else setLooked(brushed);
    },
    [held],
  );
  return { looked: rows && held, rows, brush, look: setLooked, clear: useCallback(() => setLooked(null), []) };
}
