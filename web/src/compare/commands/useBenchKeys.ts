import { useMemo } from "react";
import { useKeys } from "../../ui/useKeys";
import { withNextPlacement } from "../recipe";
import { useBenchActions, useRights } from "../store/BenchContext";
import { recipeOf } from "../store/benchStore";
import { useFigureOptions } from "../useFigureOptions";

/** The keys of the whole bench. */
export function useBenchKeys(): void {
  const { store, step, look } = useBenchActions();
  const { looking, change } = useRights();
  const options = useFigureOptions();
  const keys = useMemo(
    () => ({
      "Ctrl z": () => !looking && step("undo"),
      "Ctrl Shift z": () => !looking && step("redo"),
      "Ctrl k": () => look({ dialog: "commands" }),
      "?": () => look({ dialog: "help" }),
      f: () => look({ full: !store.getState().full }),
      p: () => {
        const recipe = recipeOf(store.getState());
        if (recipe && options) change(withNextPlacement(recipe, options));
      },
      q: () => !looking && look({ questions: !store.getState().questions }),
      m: () => !looking && look({ dialog: "measures" }),
      Escape: () => look({ full: false, layer: null }),
    }),
    [store, step, look, looking, change, options],
  );
  useKeys(keys);
}
