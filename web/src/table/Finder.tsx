import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { answer, api } from "../api/client";
import { spaced } from "../words";
import { useOutcome, useSorting, useTableActions } from "./store/TableContext";

/** Find a text in any column; Enter goes from row to row. The data stay as they are. */
export function Finder() {
  const { id: table, show } = useTableActions();
  const { steps } = useOutcome();
  const sort = useSorting();
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const field = useRef<HTMLInputElement>(null);
  const { data } = useQuery({
    queryKey: ["find", table, steps, sort, text],
    queryFn: () =>
      answer(
        api.POST("/api/tables/{table_id}/find", {
          params: { path: { table_id: table } },
          body: { steps, sort, text },
        }),
      ),
    enabled: text.length > 0,
    retry: false,
  });
  useEffect(() => {
    setAt(0);
    show(data?.places[0] ?? null);
  }, [data, show]);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "f") return;
      event.preventDefault();
      field.current?.focus();
    };
    document.addEventListener("keydown", onKey);
    return () => document.removeEventListener("keydown", onKey);
  }, []);
  const go = (by: number) => {
    const count = data?.places.length ?? 0;
    if (!count) return;
    const next = (at + by + count) % count;
    setAt(next);
    show(data?.places[next] ?? null);
  };
  return (
    <label className="flex items-center gap-2 text-[13px]">
      <span className="sr-only">Find in the rows</span>
      <input
        ref={field}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => event.key === "Enter" && go(event.shiftKey ? -1 : 1)}
        placeholder="Find"
        title="Ctrl F; Enter for the next row"
        className="w-36 rounded border border-sheet/30 bg-ink px-2 py-1 text-sheet placeholder:text-sheet/60"
      />
      {text && data && (
        <span className="number text-sheet/80" role="status">
          {data.total ? `${at + 1} of ${spaced(data.total)}` : "nowhere"}
        </span>
      )}
    </label>
  );
}
