import { useLocation } from "wouter";
import { answer, api } from "../api/client";
import { LockBar } from "../ui/LockBar";
import { useComparison, useRights } from "./store/BenchContext";

/** That the comparison is signed off, and its next version. */
export function Locked() {
  const comparison = useComparison();
  const { member } = useRights();
  const [, go] = useLocation();
  if (comparison.unreadable) {
    return (
      <p role="status" className="bg-warn-ground px-5 py-1.5 text-[13px] text-warn">
        The shown state cannot be read by this release: {comparison.unreadable} The last one that can be is drawn;
        nothing was changed, and nothing can be.
      </p>
    );
  }
  if (!comparison.locked) return null;
  const goOn = async () => {
    const params = { path: { comparison_id: comparison.id } };
    const made = await answer(api.POST("/api/comparisons/{comparison_id}/versions", { params }));
    go(`/comparisons/${made.id}`);
  };
  return <LockBar locked={comparison.locked} version={comparison.version} onGoOn={member ? goOn : null} />;
}
