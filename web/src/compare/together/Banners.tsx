import { answer, api } from "../../api/client";
import { Button } from "../../ui/Button";
import { tell } from "../../ui/Notices";
import { useBenchActions, useComparison, useRights } from "../store/BenchContext";

/** That the comparison lies in the archive or the bin, or that newer data broke what it is watched for. */
export function Banners() {
  const comparison = useComparison();
  const { member } = useRights();
  const { id, reload, take } = useBenchActions();
  const params = { path: { comparison_id: id } };
  const back = () =>
    void answer(api.PUT("/api/comparisons/{comparison_id}/shelf", { params, body: { shelf: "open" } })).then(
      reload,
      tell,
    );
  const seen = () =>
    void answer(api.PATCH("/api/comparisons/{comparison_id}", { params, body: { watched: true } })).then(
      take,
      tell,
    );
  return (
    <>
      {comparison.shelf !== "open" && (
        <p role="status" className="flex gap-4 bg-warn-ground px-5 py-1.5 text-[13px] text-warn">
          {comparison.shelf === "bin"
            ? "This comparison lies in the bin: it can be looked at, and is erased when its days there are over."
            : "This comparison is archived."}
          {member && (
            <Button look="quiet" className="!p-0" onClick={back}>
              Take it back
            </Button>
          )}
        </p>
      )}
      {comparison.alarm && (
        <p role="status" className="flex gap-4 bg-warn-ground px-5 py-1.5 text-[13px] text-warn">
          <span>
            <strong>Newer data broke what is watched here:</strong> {comparison.alarm}
          </span>
          {member && (
            <Button look="quiet" className="!p-0" onClick={seen}>
              Seen
            </Button>
          )}
        </p>
      )}
    </>
  );
}
