import { useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { answer, api } from "../../api/client";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { tell } from "../../ui/Notices";
import { withAndWithout } from "../many/sides";
import { withValue } from "../recipe";
import { useBenchActions, useBenchState, useComparison, useFar, useRights } from "../store/BenchContext";
import { rowQuery } from "./rowQuery";

const WHERE = [
  { value: "here", name: "This comparison" },
  { value: "table", name: "Whole table" },
] as const;

/** The card of the row that was chosen, for those who may see rows. */
export function RowCardPanel() {
  const { rows } = useRights();
  const row = useBenchState((state) => state.row);
  if (row === null || !rows) return null;
  return (
    <div className="relative w-0">
      <RowCard key={row} row={row} />
    </div>
  );
}

/** One row: who it is, how odd it is, all its columns; it can be left out with a reason, and taken back. */
function RowCard({ row }: { row: number }) {
  const comparison = useComparison();
  // What is settled: a drag moves the figure alone.
  const { recipe } = comparison;
  // The rows of a far table stay in their files: one is left out of the comparison alone.
  const far = useFar();
  const { looking: fixed } = useRights();
  const { settle: onSettle, takeNewest: onNewest, look } = useBenchActions();
  const onClose = useCallback(() => look({ row: null }), [look]);
  const onBoth = () => look({ dialog: withAndWithout(comparison, recipe) });
  const [reason, setReason] = useState("");
  const [where, setWhere] = useState<"here" | "table">("here");
  const closer = useRef<HTMLButtonElement>(null);
  const { data: card, error } = useQuery(rowQuery(comparison.id, recipe, row));
  useEffect(() => closer.current?.focus(), []);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => event.key === "Escape" && !event.defaultPrevented && onClose();
    document.addEventListener("keydown", onKey);
    return () => document.removeEventListener("keydown", onKey);
  }, [onClose]);
  const points = recipe.layers.findIndex((layer) => layer.layer === "points" && layer.shown);
  const layer = recipe.layers[points];
  const named = layer?.layer === "points" ? layer.named : [];
  const toggled = named.includes(row) ? named.filter((name) => name !== row) : [...named, row];
  const change = (why: string) =>
    answer(
      api.POST("/api/comparisons/{comparison_id}/left-out", {
        params: { path: { comparison_id: comparison.id } },
        body: { recipe, row, reason: why },
      }),
    ).then((next) => {
      setReason("");
      onSettle(next);
    }, tell);
  const fromTable = async (why: string) => {
    const { revision } = await answer(
      api.GET("/api/tables/{table_id}", { params: { path: { table_id: comparison.table } } }),
    );
    await answer(
      api.POST("/api/tables/{table_id}/left-out", {
        params: { path: { table_id: comparison.table } },
        body: { revision, key: row, reason: why },
      }),
    );
    onNewest();
    onClose();
  };
  const leaveOut = (why: string) => (where === "here" ? change(why) : fromTable(why).catch(tell));
  return (
    <section
      aria-label="Row card"
      className="absolute right-4 bottom-4 z-20 max-h-[86%] w-80 overflow-y-auto rounded-lg bg-sheet p-4 text-[13px] shadow-float"
    >
      <div className="mb-2 flex items-baseline gap-2">
        <h2 className="text-[15px] font-bold">Row {card?.row ?? ""}</h2>
        <span className="truncate text-muted">{card?.lane}</span>
        <Button ref={closer} look="quiet" className="ml-auto !p-0 !font-normal" onClick={onClose}>
          Close
        </Button>
      </div>
      {error && <p className="text-warn">{error.message}</p>}
      {card && (
        <>
          {card.value !== null && (
            <p className="mb-2">
              <strong className="number">{card.value}</strong>
              {card.iqrs !== null && `, ${signed(card.iqrs)} IQR from the median`}
              {card.sds !== null && `, ${signed(card.sds)} SD from the mean`}
            </p>
          )}
          <dl className="mb-3 grid grid-cols-[auto_minmax(0,1fr)] gap-x-3 gap-y-0.5">
            {card.cells.map((cell) => (
              <div key={cell.column} className="contents">
                <dt className="truncate text-muted">{cell.column}</dt>
                <dd className="number truncate" title={cell.value ?? ""}>
                  {cell.value ?? "–"}
                </dd>
              </div>
            ))}
          </dl>
          {points >= 0 && !card.left_out && !fixed && (
            <Button
              look="quiet"
              className="mb-2 !p-0"
              onClick={() => onSettle(withValue(recipe, ["layers", points, "named"], toggled))}
            >
              {named.includes(row) ? "Take its name off the figure" : "Name it on the figure"}
            </Button>
          )}
          {card.left_out ? (
            <p>
              Left out: {card.left_out}.{" "}
              {!fixed && (
                <Button look="quiet" className="!p-0" onClick={() => void change("")}>
                  Take it back
                </Button>
              )}{" "}
              <Button look="quiet" className="!p-0" onClick={onBoth}>
                With and without it
              </Button>
            </p>
          ) : fixed ? null : (
            <form
              className="grid gap-2"
              onSubmit={(event) => {
                event.preventDefault();
                if (reason.trim()) void leaveOut(reason.trim());
              }}
            >
              {!far && <Choice name="Leave out of" value={where} options={WHERE} onChange={setWhere} />}
              <div className="flex gap-2">
                <input
                  value={reason}
                  onChange={(event) => setReason(event.target.value)}
                  placeholder="Reason"
                  aria-label="Reason"
                  maxLength={500}
                  className="input min-w-0 flex-1"
                />
                <Button type="submit" disabled={!reason.trim()} className="disabled:opacity-50">
                  Leave out
                </Button>
              </div>
              {where === "table" && (
                <p className="text-muted">A step of the table's preparation; other comparisons are offered it.</p>
              )}
            </form>
          )}
        </>
      )}
    </section>
  );
}

function signed(value: number): string {
  return (value < 0 ? "−" : "+") + Math.abs(value).toFixed(1);
}
