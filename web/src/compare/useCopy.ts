import { useLocation } from "wouter";
import { answer, api } from "../api/client";
import { tell } from "../ui/Notices";
import { useBenchActions } from "./store/BenchContext";

/** Begin a comparison with a state of this one, or with the shown one (null), and go there. */
export function useCopy(): (entry: number | null) => void {
  const { id } = useBenchActions();
  const [, go] = useLocation();
  return (entry) =>
    void answer(
      api.POST("/api/comparisons/{comparison_id}/copies", {
        params: { path: { comparison_id: id } },
        body: { entry },
      }),
    ).then((made) => go(`/comparisons/${made.id}`), tell);
}
