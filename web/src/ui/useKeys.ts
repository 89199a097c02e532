import { useEffect } from "react";

/** Keys of the bench, such as "f", "?" or "Ctrl k"; never while something is typed or a dialog is open. */
export function useKeys(keys: Record<string, () => void>): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target instanceof HTMLElement ? event.target : null;
      const name = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      const held = event.ctrlKey || event.metaKey ? `Ctrl ${event.shiftKey ? "Shift " : ""}` : "";
      if (event.altKey || target?.closest("[role=listbox], [role=dialog], [role=menu]")) return;
      // What is typed into a field is its own, but for what no field takes.
      if (target?.closest("input, textarea, select") && held + name !== "Ctrl k") return;
      const run = keys[held + name];
      if (!run) return;
      // What is open listens to Escape as well.
      if (event.key !== "Escape") event.preventDefault();
      run();
    };
    document.addEventListener("keydown", onKey);
    return () => document.removeEventListener("keydown", onKey);
  }, [keys]);
}
