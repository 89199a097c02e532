import { useQueryClient } from "@tanstack/react-query";
import { createContext, type ReactNode, useContext, useEffect, useState } from "react";
import { useStore } from "zustand";
import { FOLLOW } from "../../api/follow";
import type { ComparisonState, Recipe } from "../../api/generated";
import { mayChange, seesRows } from "../../roles";
import { type BenchState, type BenchStore, createBench, recipeOf } from "./benchStore";

const Context = createContext<BenchStore | null>(null);

/** The bench of a comparison, opened; what waits for a rest is kept when it is left. */
export function useBench(id: string): BenchStore {
  const client = useQueryClient();
  const [bench] = useState(() => createBench(id, client));
  useEffect(() => {
    bench.open();
    const timer = setInterval(() => {
      // What others do is no matter of a page that nobody looks at, nor is that the server is away.
      if (document.visibilityState === "visible") bench.follow().catch(() => undefined);
    }, FOLLOW);
    return () => {
      clearInterval(timer);
      bench.flush();
    };
  }, [bench]);
  return bench;
}

/** Everything inside reads and changes this bench. */
export function BenchProvider({ bench, children }: { bench: BenchStore; children: ReactNode }) {
  return <Context value={bench}>{children}</Context>;
}

/** What can be done with the bench. */
export function useBenchActions(): BenchStore {
  const bench = useContext(Context);
  if (!bench) throw new Error("no bench is open here");
  return bench;
}

/** A part of the bench's state. */
export function useBenchState<T>(select: (state: BenchState) => T): T {
  return useStore(useBenchActions().store, select);
}

/** The comparison, inside a bench that has it: what shows it alone is not rendered with every recipe on the way. */
export function useComparison(): ComparisonState {
  const comparison = useBenchState((state) => state.comparison);
  if (!comparison) throw new Error("the comparison is not there yet");
  return comparison;
}

/** The comparison and the recipe that is shown, inside a bench that has both. */
export function useShown(): { comparison: ComparisonState; recipe: Recipe } {
  const comparison = useComparison();
  const recipe = useBenchState(recipeOf);
  if (!recipe) throw new Error("the comparison is not there yet");
  return { comparison, recipe };
}

/**
 * Who looks, and how a change is made: whoever may not change, or opens a locked comparison, tries things and keeps none.
 * ``member``: one of those who may change things of the study; ``rows``: who may see rows.
 */
export function useRights() {
  const bench = useBenchActions();
  const comparison = useBenchState((state) => state.comparison);
  const role = comparison?.role ?? "viewer";
  const member = mayChange(role);
  const looking = !member || Boolean(comparison?.locked || comparison?.unreadable || comparison?.shelf === "bin");
  return {
    member,
    rows: seesRows(role),
    looking,
    change: looking ? bench.preview : bench.settle,
    rest: looking ? bench.preview : bench.rest,
  };
}

/** Whether the rows stay in many files: of what is known of single rows and levels, a sample is at hand. */
export function useFar(): boolean {
  return useBenchState((state) => state.scene?.files != null);
}
