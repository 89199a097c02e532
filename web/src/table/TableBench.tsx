import { useRef } from "react";
import { Link } from "wouter";
import { useStore } from "zustand";
import { download } from "../api/download";
import type { Sampled as SampledTable } from "../api/generated";
import { HelpButton } from "../help/HelpButton";
import { useUpload } from "../studies/useUpload";
import { Button } from "../ui/Button";
import { FormatMenu } from "../ui/FormatMenu";
import { Header } from "../ui/Header";
import { tell, useNotices } from "../ui/Notices";
import { say, spaced } from "../words";
import { Band } from "./Band";
import { changeWords } from "./changeWords";
import { Finder } from "./Finder";
import { ReadingSentence } from "./ReadingSentence";
import { RemarksBar } from "./RemarksBar";
import { Rows } from "./Rows";
import { StepEditor } from "./StepEditor";
import {
  TableProvider,
  useCompare,
  useTable,
  useTableActions,
  useTableBench,
  useTableState,
} from "./store/TableContext";
import { useTableChanges } from "./useTableChanges";

/** The table bench: how the file was read, the preparation, the rows, the remarks. */
export function TableBench({ id }: { id: string }) {
  const bench = useTableBench(id);
  const { table, error, draft } = useStore(bench.store);
  if (error && !table) {
    return (
      <>
        <Header />
        <p className="p-8 text-warn">{error.message}. Go back to all studies by the sign at the upper left.</p>
      </>
    );
  }
  if (!table) return <Header />;
  return (
    <TableProvider bench={bench}>
      <div className="flex h-full min-w-[1024px] flex-col">
        <title>{`${table.name} – Echelle`}</title>
        <TableHeader />
        <Versions newer={table.newer} older={table.older} table={id} />
        {table.far ? <Sampled far={table.far} rows={table.rows} name={table.name} /> : <ReadingSentence />}
        <Band />
        {draft && <StepEditor draft={draft} />}
        <main className="flex min-h-0 flex-1 p-3 xl:p-4">
          <Rows />
        </main>
        <RemarksBar />
      </div>
    </TableProvider>
  );
}

function TableHeader() {
  const { table, looking } = useTable();
  const bench = useTableActions();
  const past = useTableState(
    ({ past, beginning, table }) => past.length > 0 || (!beginning && (table?.newest ?? 0) > 0),
  );
  const future = useTableState((state) => state.future.length > 0);
  const free = useTableState((state) => state.draft === null);
  const compare = useCompare();
  return (
    <Header
      place={
        <>
          <Link href={`/studies/${table.study}`} className="truncate hover:underline">
            {table.study_name}
          </Link>
          <span aria-hidden="true">/</span>
          <h1 className="truncate text-sheet">{table.name}</h1>
          <span className="hidden truncate text-[12px] text-sheet/60 xl:inline">{keeping(table.far)}</span>
        </>
      }
    >
      <HelpButton place="table" />
      {!looking && (
        <>
          <Finder />
          <Button look="dark" disabled={!past || !free} onClick={() => void bench.walk("past")}>
            Undo
          </Button>
          <Button look="dark" disabled={!future || !free} onClick={() => void bench.walk("future")}>
            Redo
          </Button>
          {table.far === null ? (
            <>
              <Newer table={table.id} disabled={table.newer !== null} />
              <TakeOut table={table.id} />
            </>
          ) : (
            table.far.source !== null && (
              <LookAgain table={table.id} name={table.name} disabled={table.newer !== null} />
            )
          )}
          <Button onClick={() => compare(null)}>Compare</Button>
        </>
      )}
    </Header>
  );
}

const FORMATS = [
  { format: "csv", name: "CSV", help: "UTF-8, decimal points" },
  { format: "xlsx", name: "XLSX", help: "numbers as numbers" },
  { format: "parquet", name: "Parquet", help: "limits in columns of their own" },
  { format: "steps", name: "Steps", help: "JSON: with the raw file they replay the rows" },
] as const;

/** The rows in use as a file, and the steps beside it. */
function TakeOut({ table }: { table: string }) {
  const save = async (format: string) => {
    const headers = await download(`/api/tables/${table}/rows/${format}`);
    if (format !== "steps") await download(`/api/tables/${table}/rows/steps`);
    const guarded = Number(headers.get("X-Guarded-Cells") ?? 0);
    if (guarded > 0) {
      useNotices.getState().add({
        what: say("cells-guarded", { count: guarded }),
        where: "",
        remedy: "Take it off where you need the cell as it was.",
      });
    }
  };
  return (
    <FormatMenu
      name="Save the rows"
      className="text-sheet hover:bg-sheet/10"
      formats={FORMATS}
      onChoose={(format) => void save(format).catch(tell)}
    />
  );
}

/** Where the rows behind a table are. */
function keeping(far: SampledTable | null): string {
  if (far === null) return "raw file kept, nothing overwritten";
  return far.source === null ? "counts from a bundle" : "counted where it lies";
}

/** Of a far table: what its rows here are, and what holds for all of them. */
function Sampled({ far, rows, name }: { far: SampledTable; rows: number; name: string }) {
  return (
    <p className="shrink-0 border-b border-hairline bg-sheet px-5 py-3 text-[17px] leading-8 text-muted">
      <strong className="text-ink">{name}</strong> has <strong className="text-ink">{spaced(rows)} rows</strong> in{" "}
      {spaced(far.files)} files
      {far.source === null ? ", of which a bundle brought the counts" : ", which stay where they are"}. Here stands
      a sample of <strong className="text-ink">{spaced(far.rows)} rows</strong>: kinds, shapes and what a step does
      are estimated on it. A figure counts all rows.
    </p>
  );
}

/** Look for files that came to the source since. */
function LookAgain({ table, name, disabled }: { table: string; name: string; disabled: boolean }) {
  const { lookAgain, state } = useUpload();
  return (
    <Button look="dark" disabled={disabled || state !== null} onClick={() => void lookAgain(table, name)}>
      {state ? "Looking…" : "Look for new files"}
    </Button>
  );
}

/** A newer export of the same table: preparation and comparisons stay. */
function Newer({ table, disabled }: { table: string; disabled: boolean }) {
  const chooser = useRef<HTMLInputElement>(null);
  const { start, state } = useUpload();
  return (
    <>
      <Button look="dark" disabled={disabled || state !== null} onClick={() => chooser.current?.click()}>
        {state ? "Reading…" : "Newer file…"}
      </Button>
      <input
        ref={chooser}
        type="file"
        className="hidden"
        aria-label="Newer file"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (file) void start(file, file.name, { replaces: table });
        }}
      />
    </>
  );
}

function Versions({ newer, older, table }: { newer: string | null; older: string | null; table: string }) {
  const { data } = useTableChanges(table, older !== null);
  if (newer) {
    return (
      <p className="shrink-0 bg-warn-ground px-5 py-1.5 text-[13px]">
        A newer table took the place of this one.{" "}
        <Link href={`/tables/${newer}`} className="font-bold text-petrol">
          Open it
        </Link>
      </p>
    );
  }
  const said = data ? changeWords(data) : [];
  if (!older || !data || said.length === 0) return null;
  return (
    <p className="shrink-0 bg-warn-ground px-5 py-1.5 text-[13px]" data-testid="changes">
      <strong className="text-warn">Against the file before</strong>
      {data.by && <span className="text-muted"> (rows matched by {data.by})</span>}: {said.join(" · ")}.{" "}
      <Link href={`/tables/${older}`} className="font-bold text-petrol">
        Show that one
      </Link>
    </p>
  );
}
