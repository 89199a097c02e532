import { useQueries } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { type KeyboardEvent, useRef } from "react";
import type { RowsOfFigure, Scene } from "../../api/generated";
import { Button } from "../../ui/Button";
import { say, spaced } from "../../words";
import { laneWords } from "../ledger/Ledger";
import { useBenchActions, useBenchState, useComparison, useFar, useRights } from "../store/BenchContext";
import { type Looked, rowsOf } from "./useRows";
import { useSelection } from "./useSelection";

const PAGE = 100;
const ROW = 25;
const MOST_HIGH = 224;

interface Props {
  scene: Scene;
  looked: Looked;
  rows: RowsOfFigure;
  onClose: () => void;
}

/** The rows that were asked for or brushed, for those who may see rows. */
export function RowsList() {
  const { rows: seen } = useRights();
  const scene = useBenchState((state) => state.scene);
  const { looked, rows, clear } = useSelection();
  return looked && rows && scene && seen ? (
    <Listed scene={scene} looked={looked} rows={rows} onClose={clear} />
  ) : null;
}

/** The rows behind a count or a selection, each with its lane and all its columns. */
function Listed({ scene, looked, rows, onClose }: Props) {
  const { id: comparison, look } = useBenchActions();
  const { recipe } = useComparison();
  const row = useBenchState((state) => state.row);
  const onRow = (next: number) => look({ row: next });
  const box = useRef<HTMLDivElement>(null);
  const lines = useVirtualizer({
    count: rows.keys.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    overscan: 8,
  });
  const shown = lines.getVirtualItems();
  const pages = [...new Set(shown.map((line) => Math.floor(line.index / PAGE)))];
  const windows = useQueries({
    queries: (pages.length ? pages : [0]).map((page) => ({
      queryKey: ["rows-of", comparison, JSON.stringify([recipe, looked]), page],
      queryFn: () => rowsOf(comparison, recipe, looked, page * PAGE, PAGE),
      gcTime: 30_000,
      staleTime: 30_000,
    })),
  });
  const columns = windows.find((page) => page.data)?.data?.columns ?? [];
  const cellsAt = (place: number) => {
    const data = windows.find((page) => page.data?.start === Math.floor(place / PAGE) * PAGE)?.data;
    const at = place % PAGE;
    return data ? { id: data.ids[at], cells: data.cells.map((column) => column[at] ?? "–") } : null;
  };
  const onKey = (event: KeyboardEvent<HTMLElement>) => {
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (event.key === "Escape") onClose();
    if (by === undefined) return;
    event.preventDefault();
    const at = (event.target as HTMLElement).closest("[data-index]")?.getAttribute("data-index");
    const to = Math.min(Math.max(Number(at ?? -1) + by, 0), rows.keys.length - 1);
    lines.scrollToIndex(to);
    const focus = () => {
      const button = box.current?.querySelector<HTMLElement>(`[data-index="${to}"] button`);
      button?.focus();
      return Boolean(button);
    };
    // A row out of sight is drawn first.
    if (!focus()) requestAnimationFrame(focus);
  };
  // A row of many files is named with its file.
  const far = useFar();
  const wide = far ? "w-80" : "w-32";
  const words = "aside" in looked ? looked.words : "selected";
  return (
    <section
      aria-label="Rows"
      onKeyDown={onKey}
      style={{ height: Math.min(MOST_HIGH, 74 + rows.keys.length * ROW) }}
      className="flex shrink-0 flex-col border-t border-hairline bg-sheet text-[13px]"
    >
      <div className="flex items-baseline gap-4 px-4 py-1.5">
        <h2 className="font-bold" aria-live="polite">
          {say("count-rows", { count: rows.counted ?? rows.total })} {words}
        </h2>
        {(far || rows.keys.length < rows.total) && (
          <span className="text-muted">
            {far ? `the ${spaced(rows.keys.length)} at hand of a far table` : `the first ${rows.keys.length}`} are
            listed
          </span>
        )}
        <Button look="quiet" className="ml-auto !p-0 !font-normal" onClick={onClose}>
          {"aside" in looked ? "Close" : "Clear the selection"}
        </Button>
      </div>
      <div ref={box} className="min-h-0 flex-1 overflow-auto border-t border-hairline">
        <div role="table" aria-label="Rows" aria-rowcount={rows.total + 1} className="w-max min-w-full">
          <div role="row" className="sticky top-0 z-10 flex bg-bench text-[12px] text-muted">
            {["Row", "Lane", ...columns].map((name, place) => (
              <span
                role="columnheader"
                key={name}
                className={`${place ? "w-32" : wide} shrink-0 truncate px-2 py-0.5`}
                title={name}
              >
                {name}
              </span>
            ))}
          </div>
          <div className="relative" style={{ height: lines.getTotalSize() }}>
            {shown.map((line) => {
              const key = rows.keys[line.index] as number;
              const cells = cellsAt(line.index);
              return (
                <div
                  role="row"
                  key={key}
                  data-index={line.index}
                  className={`absolute flex w-full items-center border-b border-hairline/60 ${key === row ? "bg-accent/25" : "hover:bg-bench/60"}`}
                  style={{ height: ROW, transform: `translateY(${line.start}px)` }}
                >
                  <span role="cell" className={`${wide} shrink-0 truncate px-2`}>
                    <button type="button" className="font-bold text-petrol" onClick={() => onRow(key)}>
                      {cells?.id ?? "…"}
                    </button>
                  </span>
                  <span role="cell" className="w-32 shrink-0 truncate px-2">
                    {rows.lanes[line.index] ? laneWords(scene, rows.lanes[line.index] as string) : "none"}
                  </span>
                  {cells?.cells.map((cell, i) => (
                    <span role="cell" key={columns[i]} className="number w-32 shrink-0 truncate px-2" title={cell}>
                      {cell}
                    </span>
                  ))}
                </div>
              );
            })}
          </div>
        </div>
      </div>
    </section>
  );
}
