import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "wouter";
import { answer, api } from "../api/client";
import type { StudyComparison, StudyState } from "../api/generated";
import { Miniature } from "../scene/Miniature";
import { Button } from "../ui/Button";
import { Header } from "../ui/Header";
import { Named } from "../ui/Named";
import { tell } from "../ui/Notices";
import { SignOut } from "../ui/SignOut";
import { spaced } from "../words";
import { BeginFolio } from "./BeginFolio";
import { Bring } from "./Bring";
import { dayOf } from "./days";
import { People } from "./People";
import { useStudies } from "./useStudies";

type Shelf = StudyComparison["shelf"];
const SHELVES: { shelf: Shelf; name: string; none: string }[] = [
  { shelf: "open", name: "Comparisons", none: "No comparison yet: bring a table, and its first figure opens." },
  { shelf: "archive", name: "Archive", none: "Nothing is archived: what is done with can be put here." },
  { shelf: "bin", name: "Bin", none: "The bin is empty." },
];
const SORTS = {
  "changed last": (a: StudyComparison, b: StudyComparison) => b.changed.localeCompare(a.changed),
  "by name": (a: StudyComparison, b: StudyComparison) => a.name.localeCompare(b.name, "en", { numeric: true }),
  "by table": (a: StudyComparison, b: StudyComparison) => a.table.localeCompare(b.table, "en", { numeric: true }),
} as const;
type Sort = keyof typeof SORTS;

/** A study with all that it holds: every comparison, its tables, folios and people. */
export function StudyPage({ id }: { id: string }) {
  const { data: study, error } = useQuery({
    queryKey: ["study", id],
    queryFn: () => answer(api.GET("/api/studies/{study_id}", { params: { path: { study_id: id } } })),
  });
  if (error) return <p className="p-8 text-warn">{error.message}. Go back to all studies.</p>;
  if (!study) return <p className="p-8 text-muted">Opening…</p>;
  return <Opened study={study} />;
}

function Opened({ study }: { study: StudyState }) {
  const client = useQueryClient();
  const studies = useStudies();
  const changing = study.role !== "viewer";
  const again = () => Promise.all(["study", "studies"].map((key) => client.invalidateQueries({ queryKey: [key] })));
  const rename = async (name: string) => {
    const path = { study_id: study.id };
    await answer(api.PATCH("/api/studies/{study_id}", { params: { path }, body: { name } }));
    await again();
  };
  return (
    <div className="flex min-h-full flex-col">
      <title>{`${study.name} – Echelle`}</title>
      <Header
        place={
          <Link href="/" className="text-sheet/80 hover:underline">
            Studies
          </Link>
        }
      >
        <SignOut />
      </Header>
      <main className="mx-auto w-full max-w-[1180px] flex-1 px-6 py-8">
        <div className="flex items-end gap-4">
          <h1 className="min-w-0 text-2xl font-bold">
            <Named name={study.name} what="study" onName={changing ? rename : null} />
          </h1>
          <span className="ml-auto" />
          {changing && (
            <Bring
              studies={studies}
              first={study.id}
              trigger={<Button className="!px-4 !py-2">Bring a table</Button>}
            />
          )}
        </div>
        <Comparisons study={study} changing={changing} again={again} />
        <Tables study={study} changing={changing} again={again} />
        <Folios study={study} changing={changing} />
        <People study={study.id} owner={study.role === "owner"} />
      </main>
    </div>
  );
}

interface PartProps {
  study: StudyState;
  changing: boolean;
  again: () => Promise<unknown>;
}

function Comparisons({ study, changing, again }: PartProps) {
  const [shelf, setShelf] = useState<Shelf>("open");
  const [search, setSearch] = useState("");
  const [sort, setSort] = useState<Sort>("changed last");
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  const here = study.comparisons.filter((comparison) => comparison.shelf === shelf);
  const shown = here.filter((comparison) => words.every((word) => wordsOf(comparison).includes(word)));
  const none = SHELVES.find((entry) => entry.shelf === shelf)?.none ?? "";
  return (
    <section aria-label="Comparisons" className="mt-6">
      <div className="flex flex-wrap items-center gap-x-5 gap-y-2">
        <div role="tablist" aria-label="Shelves" className="flex gap-4">
          {SHELVES.map((entry) => (
            <button
              key={entry.shelf}
              type="button"
              role="tab"
              aria-selected={entry.shelf === shelf}
              onClick={() => setShelf(entry.shelf)}
              className="border-b-2 border-transparent py-1 font-bold text-muted aria-selected:border-ink aria-selected:text-ink"
            >
              {entry.name}{" "}
              <span className="text-sm font-normal">
                {study.comparisons.filter((comparison) => comparison.shelf === entry.shelf).length}
              </span>
            </button>
          ))}
        </div>
        <input
          type="search"
          aria-label="Search comparisons"
          placeholder="Search names, columns, tables, people"
          value={search}
          onChange={(event) => setSearch(event.target.value)}
          className="ml-auto w-80 rounded border border-hairline bg-sheet px-3 py-1.5"
        />
        <select
          aria-label="Order of comparisons"
          value={sort}
          onChange={(event) => setSort(event.target.value as Sort)}
          className="rounded border border-hairline bg-sheet px-2 py-1.5"
        >
          {Object.keys(SORTS).map((name) => (
            <option key={name}>{name}</option>
          ))}
        </select>
      </div>
      {shown.length === 0 && (
        <p className="mt-6 text-muted">{here.length ? `Nothing here has “${search}” in it.` : none}</p>
      )}
      <ul className="mt-4 grid grid-cols-[repeat(auto-fill,minmax(220px,1fr))] gap-4">
        {[...shown].sort(SORTS[sort]).map((comparison) => (
          <Card key={comparison.id} comparison={comparison} changing={changing} again={again} />
        ))}
      </ul>
    </section>
  );
}

/** All that a comparison is looked for by. */
function wordsOf({ name, measure, groups, table, by }: StudyComparison): string {
  return [name, measure, groups, table, by].join(" ").toLowerCase();
}

function Card(props: { comparison: StudyComparison; changing: boolean; again: () => Promise<unknown> }) {
  const { comparison, changing, again } = props;
  const params = { path: { comparison_id: comparison.id } };
  const rename = async (name: string) => {
    await answer(api.PATCH("/api/comparisons/{comparison_id}", { params, body: { name } }));
    await again();
  };
  const put = (shelf: Shelf) =>
    answer(api.PUT("/api/comparisons/{comparison_id}/shelf", { params, body: { shelf } })).then(again, tell);
  const erase = () => answer(api.DELETE("/api/comparisons/{comparison_id}", { params })).then(again, tell);
  const question = comparison.groups ? `${comparison.measure} across ${comparison.groups}` : comparison.measure;
  return (
    <li className="group min-w-0 overflow-hidden rounded-lg bg-sheet shadow-sm">
      <Link href={`/comparisons/${comparison.id}`} aria-label={`Open ${comparison.name}`} className="block">
        <div className="grid place-items-center border-b border-hairline p-3" aria-hidden="true">
          <Miniature comparison={comparison.id} state={comparison.changed} scale={2} />
        </div>
      </Link>
      <div className="px-4 py-3">
        <div className="font-bold">
          <Named
            name={comparison.name}
            what="comparison"
            href={`/comparisons/${comparison.id}`}
            onName={changing && !comparison.locked ? rename : null}
          />
        </div>
        <p className="truncate text-sm text-muted" title={question}>
          {question}
        </p>
        <p className="truncate text-sm text-muted" title={`${comparison.table}, by ${comparison.by}`}>
          {dayOf(comparison.changed)} · {comparison.table}
        </p>
        {(comparison.locked || comparison.older_data) && (
          <p className="text-sm font-bold text-warn">
            {[comparison.locked && "signed off", comparison.older_data && "drawn from older data"]
              .filter(Boolean)
              .join(" · ")}
          </p>
        )}
        {changing && (
          <p className="mt-1 flex gap-3 text-[13px]">
            {comparison.shelf === "open" ? (
              <>
                <Quiet name="Archive" of={comparison.name} run={() => void put("archive")} />
                {!comparison.locked && <Quiet name="To the bin" of={comparison.name} run={() => void put("bin")} />}
              </>
            ) : (
              <Quiet name="Take back" of={comparison.name} run={() => void put("open")} />
            )}
            {comparison.shelf === "bin" && (
              <Quiet name="Erase for good" of={comparison.name} run={() => void erase()} />
            )}
          </p>
        )}
      </div>
    </li>
  );
}

function Quiet({ name, of, run }: { name: string; of: string; run: () => void }) {
  return (
    <Button look="quiet" className="!p-0 !font-normal" aria-label={`${name}: ${of}`} onClick={run}>
      {name}
    </Button>
  );
}

function Tables({ study, changing, again }: PartProps) {
  if (study.tables.length === 0) return null;
  const rename = (id: string) => async (name: string) => {
    await answer(api.PATCH("/api/tables/{table_id}", { params: { path: { table_id: id } }, body: { name } }));
    await again();
  };
  return (
    <section aria-label="Tables" className="mt-8">
      <h2 className="text-lg font-bold">Tables</h2>
      <table className="mt-2 w-full text-left">
        <thead className="text-sm text-muted">
          <tr className="border-b border-hairline">
            {["Table", "Rows", "Came in", "Comparisons"].map((name) => (
              <th key={name} scope="col" className="py-1 pr-6 font-normal">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {study.tables.map((table) => (
            <tr key={table.id} className="border-b border-hairline/60">
              <td className="py-1.5 pr-6 font-bold">
                <Named
                  name={table.name}
                  what="table"
                  href={`/tables/${table.id}`}
                  onName={changing ? rename(table.id) : null}
                />
              </td>
              <td className="number py-1.5 pr-6">{spaced(table.rows)}</td>
              <td className="py-1.5 pr-6">{dayOf(table.made)}</td>
              <td className="number py-1.5 pr-6">{table.comparisons}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Folios({ study, changing }: { study: StudyState; changing: boolean }) {
  if (study.folios.length === 0 && !changing) return null;
  return (
    <section aria-label="Folios" className="mt-8">
      <h2 className="text-lg font-bold">Folios</h2>
      <ul className="mt-2 flex flex-wrap gap-x-6 gap-y-1">
        {study.folios.map((folio) => (
          <li key={folio.id}>
            <Link href={`/folios/${folio.id}`} className="font-bold text-petrol hover:underline">
              {folio.name}
            </Link>
          </li>
        ))}
        {changing && study.comparisons.length > 0 && (
          <li>
            <BeginFolio study={study.id} />
          </li>
        )}
      </ul>
    </section>
  );
}
