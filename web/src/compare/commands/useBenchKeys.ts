import { useMemo } from "react";
import { useBenchActions, useRights } from "../store/BenchContext";
import { useKeys } from "./useKeys";

/** The keys of the whole bench. */
export function useBenchKeys(): void {
  const { store, step, look } = useBenchActions();
  const { looking } = useRights();
  const keys = useMemo(
    () => ({
      "Ctrl z": () => !looking && step("undo"),
      "Ctrl Shift z": () => !looking && step("redo"),
      "Ctrl k": () => look({ dialog: "commands" }),
      "?": () => look({ dialog: "keys" }),
      f: () => look({ full: !store.getState().full }),
      m: () => !looking && look({ dialog: "measures" }),
      Escape: () => look({ full: false, layer: null }),
    }),
    [store, step, look, looking],
  );
  useKeys(keys);
}
