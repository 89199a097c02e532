import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useMemo, useRef, useState } from "react";
import { Link } from "wouter";
import { answer, api } from "../api/client";
import type { Found } from "../api/generated";
import { Miniature } from "../scene/Miniature";
import { useKeys } from "../ui/useKeys";
import { useLater } from "../ui/useLater";
import { dayOf } from "./days";

/** Where a find stands. */
const PLACES: Record<Found["what"], string> = {
  study: "studies",
  comparison: "comparisons",
  table: "tables",
  folio: "folios",
};
const REST = 120;

/** Search over everything: a field, and under it what is found, with miniatures; "/" goes there. */
export function Search() {
  const [text, setText] = useState("");
  const words = useLater(text.trim(), REST);
  const field = useRef<HTMLInputElement>(null);
  useKeys(useMemo(() => ({ "/": () => field.current?.focus() }), []));
  return (
    <search className="block">
      <input
        ref={field}
        type="search"
        aria-label="Search everything"
        placeholder="Search everything: names, columns, levels, words on figures, methods, people, dates"
        title="/"
        value={text}
        maxLength={200}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => event.key === "Escape" && setText("")}
        className="w-full rounded-md border border-hairline bg-sheet px-4 py-2.5"
      />
      {words && text.trim() && <Finds words={words} />}
    </search>
  );
}

function Finds({ words }: { words: string }) {
  const { data, error } = useQuery({
    queryKey: ["search", words],
    queryFn: () => answer(api.GET("/api/search", { params: { query: { words } } })),
    placeholderData: keepPreviousData,
    staleTime: 5_000,
  });
  if (error) return <p className="mt-3 text-warn">{error.message}. Search again in a moment.</p>;
  if (!data) return null;
  const figures = data.found.filter((find) => find.what === "comparison");
  const others = data.found.filter((find) => find.what !== "comparison");
  return (
    <section aria-label="Found" className="mt-3">
      <p role="status" className="text-sm text-muted">
        {data.found.length === 0
          ? `Nothing has “${words}” in it, nor words like it.`
          : `${data.more ? "The best " : ""}${data.found.length} found${data.more ? "; another word narrows them" : ""}`}
      </p>
      {others.length > 0 && (
        <ul className="mt-2 flex flex-wrap gap-x-6 gap-y-1.5">
          {others.map((find) => (
            <li key={find.id}>
              <Link href={`/${PLACES[find.what]}/${find.id}`} className="font-bold text-petrol hover:underline">
                {find.name}
              </Link>{" "}
              <span className="text-sm text-muted">
                {find.what}
                {find.what !== "study" && ` of ${find.study_name}`}
              </span>
            </li>
          ))}
        </ul>
      )}
      <ul className="mt-3 grid grid-cols-[repeat(auto-fill,minmax(220px,1fr))] gap-4">
        {figures.map((find) => (
          <li key={find.id} className="min-w-0">
            <Link
              href={`/comparisons/${find.id}`}
              className="block overflow-hidden rounded-lg bg-sheet shadow-sm hover:shadow-sheet"
            >
              <div className="grid h-[152px] place-items-center border-b border-hairline p-3" aria-hidden="true">
                <Miniature comparison={find.id} state={find.changed} scale={2} />
              </div>
              <div className="px-4 py-3">
                <div className="truncate font-bold" title={find.name}>
                  {find.name}
                </div>
                <div className="truncate text-sm text-muted" title={find.study_name}>
                  {dayOf(find.changed)} · {find.study_name}
                </div>
                {find.pieces.map((piece) => (
                  <div key={piece.what + piece.text} className="truncate text-[13px]" title={piece.text}>
                    <span className="text-muted">{piece.what}</span> {piece.text}
                  </div>
                ))}
              </div>
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}
