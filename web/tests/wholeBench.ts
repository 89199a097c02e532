import { useStore } from "zustand";
import { useBench } from "../src/compare/store/BenchContext";
import { recipeOf } from "../src/compare/store/benchStore";

/** A bench with all of its state. */
export function useWholeBench(id: string) {
  const bench = useBench(id);
  const state = useStore(bench.store);
  return { ...bench, ...state, recipe: recipeOf(state) };
}
