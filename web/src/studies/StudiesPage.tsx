import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "wouter";
import { answer, api } from "../api/client";
import type { CardComparison, StudyCard } from "../api/generated";
import { FirstSteps } from "../help/FirstSteps";
import { HelpButton } from "../help/HelpButton";
import { mayChange } from "../roles";
import { Miniature } from "../scene/Miniature";
import { Button } from "../ui/Button";
import { Header } from "../ui/Header";
import { Headings } from "../ui/Headings";
import { tell } from "../ui/Notices";
import { SignOut } from "../ui/SignOut";
import { say } from "../words";
import { BeginFolio } from "./BeginFolio";
import { Bring } from "./Bring";
import { dayOf } from "./days";
import { NewStudy } from "./NewStudy";
import { Recent } from "./Recent";
import { RecordDialog } from "./RecordDialog";
import { Search } from "./Search";

/** So many studies stand with their figures; the others are a line each. */
const WITH_FIGURES = 4;

/** All studies: what was open last, search over everything, and the place where a table comes in. */
export function StudiesPage() {
  const { data: me } = useQuery({ queryKey: ["me"], queryFn: () => answer(api.GET("/api/session")) });
  const { data: studies, error } = useQuery({
    queryKey: ["studies"],
    queryFn: () => answer(api.GET("/api/studies")),
  });
  const [record, setRecord] = useState<StudyCard | null>(null);
  const [archive, setArchive] = useState(false);
  const open = studies?.filter((study) => !study.archived) ?? [];
  const archived = studies?.filter((study) => study.archived) ?? [];
  return (
    <div className="flex min-h-full flex-col">
      <title>Studies – Echelle</title>
      <Header>
        <span className="px-2 text-sheet/80">{me?.name}</span>
        <HelpButton place="studies" />
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
          <NewStudy studies={open} />
          <Bring studies={studies ?? []} trigger={<Button className="!px-4 !py-2">Bring a table</Button>} />
        </div>
        <div className="mt-5">
          <Search />
        </div>
        <FirstSteps studies={open} />
        <Recent />
        {error && <p className="mt-8 text-warn">{error.message}. Reload the page.</p>}
        {open.length === 0 && studies && (
          <p className="mt-10 rounded-lg border-2 border-dashed border-hairline p-10 text-center text-muted">
            No study yet. Copy cells from a spreadsheet and paste them right here, or drop a CSV file: the first
            study begins with it.
          </p>
        )}
        {open.slice(0, WITH_FIGURES).map((study) => (
          <Study key={study.id} study={study} onRecord={() => setRecord(study)} />
        ))}
        {open.length > WITH_FIGURES && (
          <section aria-label="More studies" className="mt-10">
            <h2 className="text-lg font-bold">More studies</h2>
            <Lines studies={open.slice(WITH_FIGURES)} />
          </section>
        )}
        {archived.length > 0 && (
          <section aria-label="Archived studies" className="mt-10">
            <Button look="quiet" className="!p-0" aria-expanded={archive} onClick={() => setArchive(!archive)}>
              {archive ? "Hide" : "Show"} {archived.length} archived
            </Button>
            {archive && <Lines studies={archived} />}
          </section>
        )}
      </main>
      {record && <RecordDialog study={record} onClose={() => setRecord(null)} />}
    </div>
  );
}

/** A study with its newest figures. */
function Study({ study, onRecord }: { study: StudyCard; onRecord: () => void }) {
  return (
    <section aria-label={study.name} className="mt-8">
      <h2 className="flex items-baseline gap-3 text-lg font-bold">
        <Pin study={study} />
        <Link href={`/studies/${study.id}`} className="min-w-0 truncate hover:underline">
          {study.name}
        </Link>
        <span className="truncate text-sm font-normal text-muted">{sizeOf(study)}</span>
        {!mayChange(study.role) && <span className="text-sm font-normal text-muted">you may look</span>}
        {study.role === "owner" && (
          <Button look="quiet" className="!p-0 text-sm !font-normal" onClick={onRecord}>
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
        <Link href={`/studies/${study.id}`} className="mt-3 inline-block font-bold text-petrol hover:underline">
          All {study.open} comparisons
        </Link>
      )}
    </section>
  );
}

/** What a study holds, its people and its last work, in one line. */
function sizeOf(study: StudyCard): string {
  const people = study.people.length === 1 ? "" : `${study.people.length} people · `;
  return `${people}last work ${dayOf(study.changed)}`;
}

/** Studies a line each. */
function Lines({ studies }: { studies: StudyCard[] }) {
  return (
    <table className="mt-2 w-full text-left">
      <Headings names={["Study", "Last work", "Comparisons", "Tables", "People"]} />
      <tbody>
        {studies.map((study) => (
          <tr key={study.id} className="border-b border-hairline/60">
            <td className="max-w-[26rem] py-1.5 pr-6">
              <span className="flex items-baseline gap-2">
                <Pin study={study} />
                <Link
                  href={`/studies/${study.id}`}
                  className="truncate font-bold hover:underline"
                  title={study.name}
                >
                  {study.name}
                </Link>
              </span>
            </td>
            <td className="py-1.5 pr-6 whitespace-nowrap">{dayOf(study.changed)}</td>
            <td className="number py-1.5 pr-6">{study.open}</td>
            <td className="number py-1.5 pr-6">{study.tables.length}</td>
            <td className="max-w-[18rem] truncate py-1.5 pr-6" title={study.people.join(", ")}>
              {study.people.join(", ")}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** Lets a study come first, for this person. */
function Pin({ study }: { study: StudyCard }) {
  const client = useQueryClient();
  const params = { path: { study_id: study.id } };
  const set = () =>
    answer(api.PUT("/api/studies/{study_id}/pin", { params, body: { pinned: !study.pinned } })).then(
      () => client.invalidateQueries({ queryKey: ["studies"] }),
      tell,
    );
  return (
    <button
      type="button"
      aria-pressed={study.pinned}
      aria-label={`Pin ${study.name}`}
      title={study.pinned ? "Pinned: it comes first. Press to unpin" : "Let it come first"}
      onClick={() => void set()}
      className="text-sm text-muted aria-pressed:text-petrol"
    >
      {study.pinned ? "◆" : "◇"}
    </button>
  );
}

/** The study's folios, and a way to begin one. */
function Folios({ study }: { study: StudyCard }) {
  const changing = mayChange(study.role);
  if (!changing && study.folios.length === 0) return null;
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
      {changing && study.comparisons.length > 0 && (
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
