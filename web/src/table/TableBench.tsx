import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link, useLocation } from "wouter";
import { answer, api } from "../api/client";
import { download } from "../api/download";
import type { ColumnSummary } from "../api/generated";
import { useUpload } from "../studies/useUpload";
import { Button } from "../ui/Button";
import { FormatMenu } from "../ui/FormatMenu";
import { Header } from "../ui/Header";
import { tell, useNotices } from "../ui/Notices";
import { say } from "../words";
import { Band } from "./Band";
import { Finder } from "./Finder";
import type { Sorting } from "./HeadingCard";
import { ReadingSentence } from "./ReadingSentence";
import { RemarksBar } from "./RemarksBar";
import { Rows, type RowsHandle } from "./Rows";
import { StepEditor } from "./StepEditor";
import { beginStep, type Kind, type StepName, type StepRecord } from "./steps";
import { useTable } from "./useTable";

/** The table bench: how the file was read, the preparation, the rows, the remarks. */
export function TableBench({ id }: { id: string }) {
  const bench = useTable(id);
  const { table, error, settled, outcome, draft, setDraft } = bench;
  const [sort, setSort] = useState<Sorting | null>(null);
  const [lit, setLit] = useState<number | null>(null);
  const rows = useRef<RowsHandle>(null);
  const [, go] = useLocation();

  if (error) {
    return (
      <>
        <Header />
        <p className="p-8 text-warn">{error.message}. Go back to all studies by the sign at the upper left.</p>
      </>
    );
  }
  if (!table || !outcome) return <Header />;
  const looking = table.role === "viewer";
  const context = { columns: (draft ? bench.before?.columns : undefined) ?? outcome.columns, tables: bench.tables };
  const sorted = sort && outcome.columns.some((c) => c.name === sort.column) ? sort : null;
  const begin = (step: StepRecord) => setDraft({ at: settled.length, added: true, step });
  const show = (place: number | null) => {
    setLit(place);
    if (place !== null) rows.current?.show(place);
  };
  const showRow = async (row: number) => {
    const answered = await answer(
      api.POST("/api/tables/{table_id}/find", {
        params: { path: { table_id: id } },
        body: { steps: bench.steps, sort: sorted, key: row },
      }),
    );
    if (answered.places[0] !== undefined) return show(answered.places[0]);
    useNotices
      .getState()
      .add({ what: "That row is not among the rows in use", where: "", remedy: "A step took it away." });
  };
  const compare = async (column: ColumnSummary | null) => {
    const measured = column?.kind === "measure";
    const asked = {
      table: id,
      measure: measured ? column.name : null,
      groups: column && !measured ? column.name : null,
    };
    go(`/comparisons/${(await answer(api.POST("/api/comparisons", { body: asked }))).id}`);
  };
  const setKind = (column: string, kind: Kind) => {
    if (kind === outcome.columns.find((c) => c.name === column)?.kind) return;
    const decimal = table.read.decimal;
    void bench.settle([...settled, { step: "kind", on: true, column, kind, decimal, dates: null }]);
  };
  return (
    <div className="flex h-full min-w-[1024px] flex-col">
      <title>{`${table.name} – Echelle`}</title>
      <Header
        place={
          <>
            <span className="truncate">{table.study_name}</span>
            <span aria-hidden="true">/</span>
            <h1 className="truncate text-sheet">{table.name}</h1>
            <span className="hidden truncate text-[12px] text-sheet/60 xl:inline">
              raw file kept, nothing overwritten
            </span>
          </>
        }
      >
        {!looking && (
          <>
            <Finder table={id} steps={bench.steps} sort={sorted} onShow={show} />
            <Button look="dark" disabled={!bench.undo || draft !== null} onClick={() => bench.undo?.()}>
              Undo
            </Button>
            <Button look="dark" disabled={!bench.redo || draft !== null} onClick={() => bench.redo?.()}>
              Redo
            </Button>
            <Newer table={id} disabled={table.newer !== null} />
            <TakeOut table={id} />
            <Button onClick={() => void compare(null).catch(tell)}>Compare</Button>
          </>
        )}
      </Header>
      <Versions newer={table.newer} older={table.older} table={id} />
      <ReadingSentence table={table} outcome={outcome} looking={looking} onRead={bench.readAgain} />
      <Band
        file={table.name}
        size={table.size}
        read={table.rows}
        outcome={outcome}
        settled={settled}
        context={context}
        looking={looking}
        editing={draft?.at ?? null}
        onSettle={(steps) => void bench.settle(steps)}
        onEdit={(at) => settled[at] && setDraft({ at, added: false, step: settled[at] })}
        onBegin={begin}
      />
      {draft && (
        <StepEditor
          table={id}
          draft={draft}
          context={context}
          before={bench.before}
          outcome={outcome}
          fault={bench.fault}
          steps={settled}
          onChange={(step) => setDraft({ ...draft, step })}
          onTake={() => void bench.settle(bench.steps)}
          onCancel={() => setDraft(null)}
        />
      )}
      <main className="flex min-h-0 flex-1 p-3 xl:p-4">
        <Rows
          ref={rows}
          table={id}
          columns={outcome.columns}
          rows={outcome.rows}
          total={outcome.rows_shown}
          steps={bench.steps}
          against={draft ? settled : null}
          sort={sorted}
          lit={lit}
          looking={looking}
          focus={draft && "column" in draft.step ? draft.step.column : null}
          onSort={setSort}
          onStep={(name: StepName, column) => begin(beginStep(name, context, column))}
          onKind={setKind}
          onCompare={(column) => void compare(column).catch(tell)}
          onLeaveOut={draft ? null : (key, reason) => void bench.leaveOut(key, reason)}
        />
      </main>
      <RemarksBar
        table={table}
        settled={settled}
        looking={looking || draft !== null}
        onShow={(row) => void showRow(row).catch(tell)}
        onRead={bench.readAgain}
        onSteps={(steps) => void bench.settle(steps)}
      />
    </div>
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
      name="Take rows out"
      className="text-sheet hover:bg-sheet/10"
      formats={FORMATS}
      onChoose={(format) => void save(format).catch(tell)}
    />
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
  const { data } = useQuery({
    queryKey: ["changes", table],
    queryFn: () => answer(api.GET("/api/tables/{table_id}/changes", { params: { path: { table_id: table } } })),
    enabled: older !== null,
    staleTime: Number.POSITIVE_INFINITY,
  });
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
  if (
    !older ||
    !data ||
    !(data.added || data.gone || data.changed || data.columns_added.length || data.columns_gone.length)
  ) {
    return null;
  }
  const said = [
    data.added && say("rows-added", { count: data.added }),
    data.gone && say("rows-gone", { count: data.gone }),
    data.changed && say("rows-changed", { count: data.changed }),
    data.columns_added.length && `new columns ${data.columns_added.join(", ")}`,
    data.columns_gone.length && `columns gone: ${data.columns_gone.join(", ")}`,
    ...data.levels.map(
      (l) =>
        `${l.column}: ${[...l.added.map((x) => `+ ${x}`), ...l.gone.map((x) => `− ${x}`)].slice(0, 6).join(", ")}`,
    ),
  ].filter(Boolean);
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
