import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "wouter";
import { answer, api } from "../api/client";
import type { CardComparison, StudyCard } from "../api/generated";
import { Miniature } from "../scene/Miniature";
import { Button } from "../ui/Button";
import { Header } from "../ui/Header";
import { SignOut } from "../ui/SignOut";
import { say } from "../words";
import { BeginFolio } from "./BeginFolio";
import { Bring } from "./Bring";
import { dayOf } from "./days";
import { RecordDialog } from "./RecordDialog";

/** All studies as cards with live miniatures; the place where a table comes in. */
export function StudiesPage() {
  const { data: me } = useQuery({ queryKey: ["me"], queryFn: () => answer(api.GET("/api/session")) });
  const { data: studies, error } = useQuery({
    queryKey: ["studies"],
    queryFn: () => answer(api.GET("/api/studies")),
  });
  const [record, setRecord] = useState<StudyCard | null>(null);
  return (
    <div className="flex min-h-full flex-col">
      <title>Studies – Echelle</title>
      <Header>
        <span className="px-2 text-sheet/80">{me?.name}</span>
        <SignOut />
      </Header>
      <main className="mx-auto w-full max-w-[1180px] flex-1 px-6 py-8">
        <div className="flex items-end gap-4">
          <div>
            <h1 className="text-2xl font-bold">Studies</h1>
            <p className="text-muted">
              A study holds its tables, its comparisons and its people. Paste cells or drop a file anywhere here to
              begin.
            </p>
          </div>
          <span className="ml-auto" />
          <Bring studies={studies ?? []} trigger={<Button className="!px-4 !py-2">Bring a table</Button>} />
        </div>
        {error && <p className="mt-8 text-warn">{error.message}. Reload the page.</p>}
        {studies?.length === 0 && (
          <p className="mt-10 rounded-lg border-2 border-dashed border-hairline p-10 text-center text-muted">
            No study yet. Copy cells from a spreadsheet and paste them right here, or drop a CSV file: the first
            study begins with it.
          </p>
        )}
        {studies?.map((study) => (
          <section key={study.id} aria-label={study.name} className="mt-8">
            <h2 className="flex items-baseline gap-3 text-lg font-bold">
              <Link href={`/studies/${study.id}`} className="hover:underline">
                {study.name}
              </Link>
              {study.role === "viewer" && <span className="text-sm font-normal text-muted">you may look</span>}
              {study.role === "owner" && (
                <Button look="quiet" className="!p-0 text-sm !font-normal" onClick={() => setRecord(study)}>
                  Record
                </Button>
              )}
            </h2>
            <ul aria-label="Tables" className="mt-1 flex flex-wrap gap-x-5 gap-y-1">
              {study.tables.map((table) => (
                <li key={table.id}>
                  <Link href={`/tables/${table.id}`} className="font-bold text-petrol hover:underline">
                    {table.name}
                  </Link>{" "}
                  <span className="text-sm text-muted">{say("count-rows", { count: table.rows })}</span>
                </li>
              ))}
            </ul>
            <Folios study={study} />
            <ul className="mt-3 grid grid-cols-[repeat(auto-fill,minmax(220px,1fr))] gap-4">
              {study.comparisons.map((comparison) => (
                <Card key={comparison.id} comparison={comparison} />
              ))}
            </ul>
            {study.open > study.comparisons.length && (
              <Link
                href={`/studies/${study.id}`}
                className="mt-3 inline-block font-bold text-petrol hover:underline"
              >
                All {study.open} comparisons
              </Link>
            )}
          </section>
        ))}
      </main>
      {record && <RecordDialog study={record} onClose={() => setRecord(null)} />}
    </div>
  );
}

/** The study's folios, and a way to begin one. */
function Folios({ study }: { study: StudyCard }) {
  const viewer = study.role === "viewer";
  if (viewer && study.folios.length === 0) return null;
  return (
    <ul aria-label="Folios" className="mt-1 flex flex-wrap gap-x-5 gap-y-1">
      {study.folios.map((folio) => (
        <li key={folio.id}>
          <Link href={`/folios/${folio.id}`} className="font-bold text-petrol hover:underline">
            {folio.name}
          </Link>{" "}
          <span className="text-sm text-muted">folio</span>
        </li>
      ))}
      {!viewer && study.comparisons.length > 0 && (
        <li>
          <BeginFolio study={study.id} />
        </li>
      )}
    </ul>
  );
}

function Card({ comparison }: { comparison: CardComparison }) {
  return (
    <li>
      <Link
        href={`/comparisons/${comparison.id}`}
        className="block overflow-hidden rounded-lg bg-sheet shadow-sm hover:shadow-sheet"
      >
        <div className="grid place-items-center border-b border-hairline p-3" aria-hidden="true">
          <Miniature comparison={comparison.id} state={comparison.changed} scale={2} />
        </div>
        <div className="px-4 py-3">
          <div className="truncate font-bold">{comparison.name}</div>
          <div className="text-sm text-muted">changed {dayOf(comparison.changed)}</div>
        </div>
      </Link>
    </li>
  );
}
