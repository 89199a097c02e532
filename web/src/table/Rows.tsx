import { keepPreviousData, useQueries } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef, useState } from "react";
import { answer, api } from "../api/client";
import type { ColumnSummary } from "../api/generated";
import { HeadingCard } from "./HeadingCard";
import { RowNumber } from "./RowNumber";
import { useOutcome, useSorting, useTable, useTableActions, useTableState } from "./store/TableContext";

const ROW = 29;
const CARD = 128;
/** Chromium draws no taller page; longer tables scroll in proportion. */
const MOST_HIGH = 30_000_000;

/** The table under its heading cards. Only what is in sight is drawn and fetched. */
export function Rows() {
  const { id: table, leaveOut } = useTableActions();
  const { looking, rows } = useTable();
  const { outcome, steps, settled, draft } = useOutcome();
  const sort = useSorting();
  const lit = useTableState((state) => state.lit);
  const { columns, rows_shown: total } = outcome;
  const against = draft ? settled : null;
  // The column that a step on trial is about.
  const focus = draft && "column" in draft.step ? draft.step.column : null;
  const box = useRef<HTMLDivElement>(null);
  const [top, setTop] = useState(0);
  const [high, setHigh] = useState(600);
  const [longest, setLongest] = useState(4);
  const number = Math.max(68, 28 + 7.5 * Math.min(longest, 26));
  const across = useVirtualizer({
    horizontal: true,
    count: columns.length,
    getScrollElement: () => box.current,
    estimateSize: (i) => widthOf(columns[i]),
    paddingStart: number,
    scrollPaddingStart: number,
    overscan: 2,
  });
  useEffect(() => across.measure(), [columns, number, across]);
  useEffect(() => {
    const place = columns.findIndex((column) => column.name === focus);
    if (place >= 0) across.scrollToIndex(place);
  }, [focus, columns, across]);
  const before = useRef(columns.length);
  useEffect(() => {
    // A step on trial that adds columns shows them.
    if (against && columns.length > before.current) across.scrollToIndex(columns.length - 1);
    before.current = columns.length;
  }, [against, columns.length, across]);
  useEffect(() => {
    const element = box.current;
    if (!element) return;
    const sized = new ResizeObserver(() => setHigh(element.clientHeight));
    sized.observe(element);
    return () => sized.disconnect();
  }, []);

  const full = CARD + total * ROW + 12;
  const height = Math.min(full, MOST_HIGH);
  const inSight = Math.max(1, Math.ceil((high - CARD) / ROW));
  const share = height > high ? top / (height - high) : 0;
  const scaled = full > MOST_HIGH;
  const start = scaled ? Math.round(share * Math.max(0, total - inSight + 1)) : Math.floor(top / ROW);
  const from = Math.max(0, start - 4);
  const to = Math.min(total, start + inSight + 4);
  const page = Math.max(20, Math.min(200, Math.floor(20_000 / Math.max(columns.length, 1))));
  const pages: number[] = [];
  for (let p = Math.floor(from / page); p * page < to; p++) pages.push(p);
  const windows = useQueries({
    queries: pages.map((p) => ({
      queryKey: ["rows", table, steps, sort, against, p],
      queryFn: () =>
        answer(
          api.POST("/api/tables/{table_id}/rows", {
            params: { path: { table_id: table } },
            body: { steps, sort, against, start: p * page, count: page },
          }),
        ),
      enabled: rows,
      retry: false,
      staleTime: Number.POSITIVE_INFINITY,
      gcTime: 60_000,
      placeholderData: keepPreviousData,
    })),
  });
  const ids = windows.reduce((most, { data }) => Math.max(most, ...(data?.ids.map((id) => id.length) ?? [])), 4);
  useEffect(() => setLongest(ids), [ids]);
  const rowAt = (place: number) => {
    const data = windows[pages.indexOf(Math.floor(place / page))]?.data;
    const at = data ? place - data.start : -1;
    return data && at >= 0 && at < data.keys.length ? { data, at } : null;
  };

  const seek = useRef<(place: number) => void>(() => undefined);
  seek.current = (place) => {
    const middle = Math.max(0, place - inSight / 2);
    const goal = scaled ? (middle / Math.max(1, total - inSight)) * (height - high) : middle * ROW;
    box.current?.scrollTo({ top: goal });
  };
  useEffect(() => {
    if (lit) seek.current(lit.place);
  }, [lit]);

  const shown = across.getVirtualItems();
  const wide = across.getTotalSize();
  const places = Array.from({ length: Math.max(0, to - from) }, (_, i) => from + i);
  return (
    <div
      ref={box}
      role="table"
      aria-label="Rows"
      aria-rowcount={total + 1}
      aria-colcount={columns.length + 1}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling table is reached by keyboard
      tabIndex={0}
      onScroll={(event) => setTop(event.currentTarget.scrollTop)}
      className="relative min-h-0 flex-1 overflow-auto rounded-md bg-sheet shadow-sheet"
    >
      <div className="relative min-w-full" style={{ height, width: wide }}>
        <div
          role="row"
          className="sticky top-0 z-20 min-w-full border-b-2 border-ink bg-sheet"
          style={{ height: CARD, width: wide }}
        >
          <span
            className="sticky left-0 z-10 block h-full border-r border-hairline bg-sheet"
            style={{ width: number }}
          />
          {shown.map((item) => {
            const column = columns[item.index];
            return (
              column && (
                <div
                  key={column.name}
                  role="columnheader"
                  aria-colindex={item.index + 2}
                  className="absolute top-0 h-full border-r border-hairline"
                  style={{ left: item.start, width: item.size }}
                >
                  <HeadingCard column={column} />
                </div>
              )
            );
          })}
        </div>
        {places.map((place) => {
          const line = rowAt(place);
          const gone = line?.data.left_out[line.at] ?? false;
          const y = scaled ? top + CARD + (place - start) * ROW : CARD + place * ROW;
          return (
            <div
              key={place}
              role="row"
              aria-rowindex={place + 2}
              className={`absolute left-0 min-w-full border-b border-hairline/70 ${lit?.place === place ? "bg-accent/25" : "bg-sheet"} ${gone ? "text-muted opacity-60" : ""}`}
              style={{ top: y, height: ROW, width: wide }}
            >
              <RowNumber
                wide={number}
                id={line ? (line.data.ids[line.at] ?? "") : ""}
                gone={gone}
                onLeaveOut={
                  line && !draft && !gone && !looking
                    ? (reason) => void leaveOut(line.data.keys[line.at] ?? 0, reason)
                    : null
                }
              />
              {line &&
                shown.map((item) => {
                  const column = columns[item.index];
                  const state = line.data.states[item.index]?.[line.at];
                  const changed = line.data.changed?.[item.index]?.[line.at] === "+";
                  return (
                    <span
                      key={item.index}
                      role="cell"
                      className={`absolute top-0 truncate border-r border-hairline/70 px-3 leading-[28px] ${column?.kind === "measure" ? "number text-right" : column?.kind === "identifier" || column?.kind === "date" ? "number" : ""} ${changed ? "bg-accent/30" : ""} ${gone ? "line-through" : ""}`}
                      style={{ left: item.start, width: item.size, height: ROW - 1 }}
                    >
                      <Cell
                        text={line.data.cells[item.index]?.[line.at] ?? null}
                        state={state ?? "."}
                        column={column}
                      />
                    </span>
                  );
                })}
            </div>
          );
        })}
      </div>
      {!rows && <p className="p-6 text-muted">Viewers see columns, not rows.</p>}
    </div>
  );
}

/** A cell as it is written; long numbers shortened, with all digits on hover. */
function Cell(props: { text: string | null; state: string; column: ColumnSummary | undefined }) {
  const { text, state, column } = props;
  if (state === "m") {
    return text === null || text === "" ? (
      <span className="text-muted/60" title="missing">
        ·
      </span>
    ) : (
      <span className="rounded bg-warn-ground px-1.5 py-0.5 text-warn" title="missing">
        {text}
      </span>
    );
  }
  if (state === "l") {
    return (
      <span className="rounded bg-petrol/10 px-1.5 py-0.5 text-petrol" title="known only by its limit">
        {text}
      </span>
    );
  }
  const brief =
    text !== null && text.length > 9 && column?.kind === "measure" ? Number(Number(text).toPrecision(6)) : null;
  return brief === null ? <span title={text ?? ""}>{text}</span> : <span title={text ?? ""}>{String(brief)}</span>;
}

function widthOf(column: ColumnSummary | undefined): number {
  if (!column) return 140;
  if (column.kind === "text") return 220;
  const least = column.missing > 0 && column.censored > 0 ? 164 : 129;
  return Math.min(240, Math.max(least, 30 + 8.4 * column.name.length + 7 * (column.unit?.length ?? 0)));
}
