import { DropdownMenu } from "radix-ui";
import { useState } from "react";
import { answer, api } from "../api/client";
import type { ReadingOptions, ReadingRemark, RemedyOffer } from "../api/generated";
import { tell, useNotices } from "../ui/Notices";
import { say } from "../words";
import { same } from "./steps";
import { useOutcome, useReadAgain, useSorting, useTable, useTableActions } from "./store/TableContext";

const FEW = 2;
const MOST_BESIDE = 4;

/** What the reader guessed or met, along the bottom; each with its place, "show", and what undoes it. */
export function RemarksBar() {
  const { table } = useTable();
  const [all, setAll] = useState(false);
  const { remarks } = table;
  if (remarks.length === 0) return null;
  const shown = all ? remarks : remarks.slice(0, FEW);
  return (
    <section
      aria-label="Remarks"
      className={`flex shrink-0 gap-6 border-t border-hairline bg-warn-ground px-5 py-2 text-[13px] ${all ? "max-h-[40vh] items-start overflow-y-auto" : "items-baseline"}`}
    >
      <strong className="shrink-0 text-warn">{say("count-remarks", { count: remarks.length })}</strong>
      <ul className={`min-w-0 flex-1 ${all ? "grid gap-1" : "flex gap-6"}`}>
        {shown.map((remark, place) => (
          <li key={place} className="flex min-w-0 items-baseline gap-2">
            <span className={all ? "" : "truncate"} title={remark.text}>
              {remark.line !== null && <span className="text-muted">Line {remark.line}: </span>}
              {remark.text}
            </span>{" "}
            <RemarkActs remark={remark} />
          </li>
        ))}
      </ul>
      {remarks.length > FEW && (
        <button
          type="button"
          aria-expanded={all}
          className="shrink-0 self-start font-bold text-petrol"
          onClick={() => setAll(!all)}
        >
          {all ? "Fewer" : `All ${remarks.length}`}
        </button>
      )}
    </section>
  );
}

/** Show the row that a remark is about. */
function useShowRow(): (row: number) => Promise<void> {
  const { id, show } = useTableActions();
  const { steps } = useOutcome();
  const sort = useSorting();
  return async (row) => {
    const params = { path: { table_id: id } };
    const { places } = await answer(
      api.POST("/api/tables/{table_id}/find", { params, body: { steps, sort, key: row } }),
    );
    if (places[0] !== undefined) return show(places[0]);
    const what = "That row is not among the rows in use";
    useNotices.getState().add({ what, where: "", remedy: "A step took it away." });
  };
}

function RemarkActs({ remark }: { remark: ReadingRemark }) {
  const { looking } = useTable();
  const { settle } = useTableActions();
  const { settled, draft } = useOutcome();
  const readAgain = useReadAgain();
  const showRow = useShowRow();
  const { row, remedies } = remark;
  const beside = remedies.length > MOST_BESIDE ? remedies.slice(0, 1) : remedies;
  const more = remedies.slice(beside.length);
  const done = ({ steps }: RemedyOffer) =>
    steps.length > 0 && steps.every((step) => settled.some((s) => same(s, step)));
  const take = ({ steps, options }: RemedyOffer) => {
    if (steps.length) void settle([...settled, ...steps]);
    else readAgain(given(options));
  };
  return (
    <span className="flex shrink-0 gap-2 whitespace-nowrap font-bold text-petrol">
      {row !== null && (
        <button type="button" onClick={() => void showRow(row).catch(tell)}>
          Show
        </button>
      )}
      {!looking &&
        draft === null &&
        beside.map((remedy) =>
          done(remedy) ? (
            <span key={remedy.words} className="font-normal text-muted">
              ✓ {remedy.words}
            </span>
          ) : (
            <button key={remedy.words} type="button" onClick={() => take(remedy)}>
              {remedy.words}
            </button>
          ),
        )}
      {!looking && draft === null && more.length > 0 && (
        <DropdownMenu.Root>
          <DropdownMenu.Trigger className="font-bold text-petrol">One by one</DropdownMenu.Trigger>
          <DropdownMenu.Portal>
            <DropdownMenu.Content align="end" sideOffset={6} className="menu max-h-[50vh] overflow-y-auto">
              {more.map((remedy) => (
                <DropdownMenu.Item
                  key={remedy.words}
                  disabled={done(remedy)}
                  onSelect={() => take(remedy)}
                  className="menu-item"
                >
                  {done(remedy) && "✓ "}
                  {remedy.words}
                </DropdownMenu.Item>
              ))}
            </DropdownMenu.Content>
          </DropdownMenu.Portal>
        </DropdownMenu.Root>
      )}
    </span>
  );
}

/** The options that a remedy sets, without those that it leaves alone. */
function given(options: ReadingOptions): Partial<ReadingOptions> {
  return Object.fromEntries(Object.entries(options).filter(([, value]) => value !== null));
}
