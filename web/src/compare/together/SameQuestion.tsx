import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useLocation } from "wouter";
import { answer, api } from "../../api/client";
import type { SameQuestion as Asked } from "../../api/generated";
import { mayChange } from "../../roles";
import { useStudies } from "../../studies/useStudies";
import { Button } from "../../ui/Button";
import { Modal } from "../../ui/Modal";
import { tell } from "../../ui/Notices";
import { say } from "../../words";
import { useComparison } from "../store/BenchContext";

/** The same question asked of another table, such as next month's file; what did not fit is said before it opens. */
export function SameQuestion({ onClose }: { onClose: () => void }) {
  const comparison = useComparison();
  const studies = useStudies();
  const [, go] = useLocation();
  const [asked, setAsked] = useState<Asked | null>(null);
  const { data } = useQuery({
    queryKey: ["study", comparison.study],
    staleTime: 0,
    queryFn: () => answer(api.GET("/api/studies/{study_id}", { params: { path: { study_id: comparison.study } } })),
  });
  const here = (data?.tables ?? []).filter((table) => table.id !== comparison.table);
  const elsewhere = studies
    .filter((study) => study.id !== comparison.study && mayChange(study.role))
    .flatMap((study) => study.tables.map((table) => ({ ...table, name: `${table.name}, ${study.name}` })));
  const ask = async (table: string) => {
    const params = { path: { comparison_id: comparison.id } };
    const made = await answer(
      api.POST("/api/comparisons/{comparison_id}/same-question", { params, body: { table } }),
    );
    if (made.said.length === 0) go(`/comparisons/${made.comparison}`);
    else setAsked(made);
  };
  return (
    <Modal
      title="The same question of another table"
      words="The figure as it stands, drawn from another table of about the same shape, as a comparison of its own"
      className="top-[12vh] max-h-[76vh] w-[36rem] overflow-y-auto bg-sheet p-5 text-[13px]"
      onClose={onClose}
    >
      {asked ? (
        <div className="grid justify-items-start gap-3">
          <ul className="grid list-disc gap-1 pl-5" aria-label="What did not fit as it was">
            {asked.said.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
          <Button onClick={() => go(`/comparisons/${asked.comparison}`)}>Open it</Button>
        </div>
      ) : (
        <>
          {data && here.length === 0 && elsewhere.length === 0 && (
            <p className="text-muted">There is no other table yet: bring next month’s file, then ask it here.</p>
          )}
          <ul className="grid gap-0.5" aria-label="Tables to ask">
            {[...here, ...elsewhere].map((table) => (
              <li key={table.id}>
                <button
                  type="button"
                  onClick={() => void ask(table.id).catch(tell)}
                  className="flex w-full items-baseline gap-3 rounded px-2 py-1.5 text-left hover:bg-bench"
                >
                  <span className="min-w-0 truncate font-bold">{table.name}</span>
                  <span className="text-muted">{say("count-rows", { count: table.rows })}</span>
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
    </Modal>
  );
}
