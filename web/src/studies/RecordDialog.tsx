import { useInfiniteQuery, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import { download } from "../api/download";
import type { RecordEntry, StudyCard } from "../api/generated";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { Modal } from "../ui/Modal";
import { tell } from "../ui/Notices";

/** Who did what in a study, for its owners; and how small a group its viewers may see. */
export function RecordDialog({ study, onClose }: { study: StudyCard; onClose: () => void }) {
  const params = { path: { study_id: study.id } };
  const { data, hasNextPage, fetchNextPage } = useInfiniteQuery({
    queryKey: ["record", study.id],
    queryFn: ({ pageParam }) =>
      answer(
        api.GET("/api/studies/{study_id}/record", {
          params: { ...params, query: pageParam === null ? {} : { before: pageParam } },
        }),
      ),
    initialPageParam: null as number | null,
    getNextPageParam: (page) => {
      const last = page.at(-1)?.number ?? 1;
      return last > 1 ? last : null;
    },
    staleTime: 0,
  });
  const lines = data?.pages.flat() ?? [];
  return (
    <Modal
      title={`Record of ${study.name}`}
      words="Who read rows, took files out, signed, linked or changed people. Lines are only added: the database refuses to change one."
      className="top-[8vh] flex max-h-[84vh] w-[52rem] flex-col bg-sheet p-5 text-[13px]"
      onClose={onClose}
    >
      {lines.length === 0 && data && <p className="text-muted">Nothing yet.</p>}
      {lines.length > 0 && (
        // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls is reached by key
        <div className="min-h-0 flex-1 overflow-y-auto" tabIndex={0} role="region" aria-label="Lines of the record">
          <table className="w-full border-collapse text-left">
            <thead>
              <tr className="border-b border-hairline">
                {["When (UTC)", "Who", "What", ""].map((name) => (
                  <th key={name} scope="col" className="py-1 pr-4 font-bold">
                    {name}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {lines.map((line) => (
                <tr key={line.number} className="border-b border-hairline/50 align-top">
                  <td className="number py-1 pr-4 whitespace-nowrap">{line.at.slice(0, 16).replace("T", " ")}</td>
                  <td className="py-1 pr-4">{line.person || "somebody with a link"}</td>
                  <td className="py-1 pr-4 whitespace-nowrap">{line.what}</td>
                  <td className="py-1 text-muted">{detailsOf(line)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {hasNextPage && (
            <Button look="quiet" className="mt-2 !p-0" onClick={() => void fetchNextPage()}>
              Earlier lines
            </Button>
          )}
        </div>
      )}
      <div className="mt-4 flex items-baseline justify-between gap-4 border-t border-hairline pt-3">
        <LeastCell study={study.id} />
        <Button
          look="quiet"
          className="!p-0"
          onClick={() => void download(`/api/studies/${study.id}/record.csv`).catch(tell)}
        >
          Save as CSV, with hashes
        </Button>
      </div>
    </Modal>
  );
}

/** How many subjects a group must have to be shown to viewers. */
function LeastCell({ study }: { study: string }) {
  const client = useQueryClient();
  const params = { path: { study_id: study } };
  const key = ["least cell", study];
  const { data } = useQuery({
    queryKey: key,
    queryFn: () => answer(api.GET("/api/studies/{study_id}/least-cell", { params })),
  });
  if (!data) return <span />;
  const set = (text: string) => {
    const subjects = Number(text);
    if (!Number.isInteger(subjects) || subjects < 1) return false;
    void answer(api.PUT("/api/studies/{study_id}/least-cell", { params, body: { subjects } })).then(
      (next) => client.setQueryData(key, next),
      tell,
    );
    return true;
  };
  return (
    <label htmlFor="least-cell" className="flex items-baseline gap-2">
      A figure that a viewer asks for shows no group of fewer than
      <Field
        id="least-cell"
        inputMode="numeric"
        value={String(data.subjects)}
        onSettle={set}
        className="number w-12 rounded border border-hairline px-1 text-right"
      />
      subjects
    </label>
  );
}

/** What stands before a detail; nothing where it tells by itself. */
const WORDS: Record<string, string> = { of: "", kind: "", entry: "state", link: "", meaning: "" };

function detailsOf(line: RecordEntry): string {
  return Object.entries(line.details)
    .filter(([key, held]) => held !== "" && key !== "state" && key !== "share")
    .map(([key, held]) => `${WORDS[key] ?? key} ${String(held)}`.trim())
    .join(", ");
}
