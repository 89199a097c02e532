import { useQuery } from "@tanstack/react-query";
import { Link } from "wouter";
import { answer, api } from "../../api/client";
import type { StudyRemark } from "../../api/generated";
import { Miniature } from "../../scene/Miniature";
import { dayOf } from "../days";
import { RemarkText } from "../RemarkText";
import type { PartProps } from "./parts";

/** What people say of the study's figures: open remarks first, each beside its figure. */
export function Remarks({ study }: PartProps) {
  const { data } = useQuery({
    queryKey: ["remarks of", study.id],
    queryFn: () => answer(api.GET("/api/studies/{study_id}/remarks", { params: { path: { study_id: study.id } } })),
    staleTime: 0,
  });
  if (!data) return null;
  const open = data.filter((remark) => !remark.settled_at);
  const settled = data.filter((remark) => remark.settled_at);
  const changed = new Map(study.comparisons.map((held) => [held.id, held.changed]));
  return (
    <section aria-label="Remarks" className="mt-5 grid max-w-[60rem] gap-3">
      {open.length === 0 && (
        <p className="text-muted">
          No remark is open. On a comparison, More and then Remarks says something of its figure or of one lane.
        </p>
      )}
      <ul aria-label="Open remarks" className="grid gap-3">
        {open.map((remark) => (
          <Thread key={remark.id} remark={remark} changed={changed.get(remark.comparison)} />
        ))}
      </ul>
      {settled.length > 0 && (
        <details>
          <summary className="cursor-pointer font-bold">Settled: {settled.length}</summary>
          <ul aria-label="Settled remarks" className="mt-3 grid gap-3">
            {settled.map((remark) => (
              <Thread key={remark.id} remark={remark} changed={changed.get(remark.comparison)} />
            ))}
          </ul>
        </details>
      )}
    </section>
  );
}

function Thread({ remark, changed }: { remark: StudyRemark; changed: string | undefined }) {
  return (
    <li className="flex gap-4 rounded bg-sheet p-3">
      <span className="grid h-[84px] w-[120px] shrink-0 place-items-center overflow-hidden" aria-hidden="true">
        <Miniature comparison={remark.comparison} state={changed ?? remark.at} scale={1} />
      </span>
      <div className="min-w-0 flex-1">
        <p className="text-[12px] text-muted">
          <Link
            href={`/comparisons/${remark.comparison}#remarks`}
            className="text-[14px] font-bold text-petrol hover:underline"
          >
            {remark.name}
          </Link>
          {remark.lane && ` · on ${remark.lane}`} · {remark.by}, {dayOf(remark.at)}
        </p>
        <RemarkText remark={remark} />
        {remark.settled_at && (
          <p className="text-[12px] text-muted">
            settled by {remark.settled_by}, {dayOf(remark.settled_at)}
          </p>
        )}
      </div>
    </li>
  );
}
