import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { put } from "../api/client";
import type { Recipe, RowCard } from "../api/generated";
import { Button } from "../ui/Button";
import { tell } from "../ui/Notices";

interface Props {
  comparison: string;
  recipe: Recipe;
  row: number;
  onSettle: (recipe: Recipe) => void;
  onClose: () => void;
}

/** One row: who it is, how odd it is, all its columns; it can be left out with a reason, and taken back. */
export function RowCardPanel({ comparison, recipe, row, onSettle, onClose }: Props) {
  const [reason, setReason] = useState("");
  const closer = useRef<HTMLButtonElement>(null);
  const { data: card, error } = useQuery({
    queryKey: ["row", comparison, row, JSON.stringify(recipe)],
    queryFn: () => put<RowCard>("POST", `comparisons/${comparison}/row`, { recipe, row }),
  });
  useEffect(() => closer.current?.focus(), []);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => event.key === "Escape" && onClose();
    document.addEventListener("keydown", onKey);
    return () => document.removeEventListener("keydown", onKey);
  }, [onClose]);
  const change = (why: string) =>
    put<Recipe>("POST", `comparisons/${comparison}/left-out`, { recipe, row, reason: why }).then((next) => {
      setReason("");
      onSettle(next);
    }, tell);
  return (
    <section
      aria-label="Row card"
      className="absolute right-4 bottom-4 z-20 max-h-[70%] w-80 overflow-y-auto rounded-lg bg-sheet p-4 text-[13px] shadow-float"
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
          {card.left_out ? (
            <p>
              Left out: {card.left_out}.{" "}
              <Button look="quiet" className="!p-0" onClick={() => void change("")}>
                Take it back
              </Button>
            </p>
          ) : (
            <form
              className="flex gap-2"
              onSubmit={(event) => {
                event.preventDefault();
                if (reason.trim()) void change(reason.trim());
              }}
            >
              <input
                value={reason}
                onChange={(event) => setReason(event.target.value)}
                placeholder="Reason"
                aria-label="Reason"
                className="input min-w-0 flex-1"
              />
              <Button type="submit" disabled={!reason.trim()} className="disabled:opacity-50">
                Leave out
              </Button>
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
