import { useQuery, useQueryClient } from "@tanstack/react-query";
import { createContext, type ReactNode, useContext, useEffect, useState } from "react";
import { useLocation } from "wouter";
import { useStore } from "zustand";
import { answer, api, Refused } from "../../api/client";
import type { ColumnSummary, ReadingOptions, TableState } from "../../api/generated";
import { mayChange, seesRows } from "../../roles";
import { tell } from "../../ui/Notices";
import type { StepContext, StepRecord } from "../steps";
import {
  createTableBench,
  type Sorting,
  settledSteps,
  type TableBenchState,
  type TableBenchStore,
  triedSteps,
} from "./tableStore";

const Context = createContext<TableBenchStore | null>(null);

/** The bench of a table, opened. */
export function useTableBench(id: string): TableBenchStore {
  const client = useQueryClient();
  const [bench] = useState(() => createTableBench(id, client));
  useEffect(() => bench.open(), [bench]);
  return bench;
}

/** Everything inside reads and changes this bench. */
export function TableProvider({ bench, children }: { bench: TableBenchStore; children: ReactNode }) {
  return <Context value={bench}>{children}</Context>;
}

/** What can be done with the bench. */
export function useTableActions(): TableBenchStore {
  const bench = useContext(Context);
  if (!bench) throw new Error("no table is open here");
  return bench;
}

/** A part of the bench's state. */
export function useTableState<T>(select: (state: TableBenchState) => T): T {
  return useStore(useTableActions().store, select);
}

/** The table, inside a bench that has it, and whether its reader may only look. */
export function useTable(): { table: TableState; looking: boolean; rows: boolean } {
  const table = useTableState((state) => state.table);
  if (!table) throw new Error("the table is not there yet");
  return { table, looking: !mayChange(table.role), rows: seesRows(table.role) };
}

/** What the steps lead to: those that are kept, those that are shown, their outcome, and that of a step on trial. */
export function useOutcome() {
  const { id } = useTableActions();
  const { table } = useTable();
  const draft = useTableState((state) => state.draft);
  const settled = settledSteps({ table });
  const tried = triedSteps({ table, draft });
  const attempt = useQuery({
    ...trial(id, tried ?? settled),
    enabled: tried !== null,
    placeholderData: (old) => old,
  });
  const before = useQuery({ ...trial(id, settled.slice(0, draft?.at ?? 0)), enabled: draft !== null });
  const fault = tried && attempt.error instanceof Refused ? attempt.error.fault : null;
  const outcome = (tried && !fault ? attempt.data : undefined) ?? table.outcome;
  return { settled, steps: tried && !fault ? tried : settled, outcome, before: before.data, fault, draft };
}

function trial(id: string, steps: StepRecord[]) {
  const params = { path: { table_id: id } };
  return {
    queryKey: ["try", id, steps],
    queryFn: () => answer(api.POST("/api/tables/{table_id}/try", { params, body: { steps } })),
    retry: false,
  };
}

/** What a form has to choose from: the columns before the step on trial, and the study's other tables. */
export function useStepContext(): StepContext {
  const { table, looking } = useTable();
  const { before, outcome, draft } = useOutcome();
  const { data } = useQuery({
    queryKey: ["tables", table.study],
    queryFn: () =>
      answer(api.GET("/api/studies/{study_id}/tables", { params: { path: { study_id: table.study } } })),
    enabled: !looking,
  });
  const columns = (draft ? before?.columns : undefined) ?? outcome.columns;
  return { columns, tables: (data ?? []).filter(({ id }) => id !== table.id) };
}

/** The order of rows, where its column is still there. */
export function useSorting(): Sorting | null {
  const sort = useTableState((state) => state.sort);
  const { outcome } = useOutcome();
  return sort && outcome.columns.some(({ name }) => name === sort.column) ? sort : null;
}

/** Read the file in another way, and go to the table that comes of it. */
export function useReadAgain(): (options: Partial<ReadingOptions>) => void {
  const bench = useTableActions();
  const [, go] = useLocation();
  return (options) =>
    void bench.readAgain(options).then((id) => id && go(`/tables/${id}`, { replace: true }), tell);
}

/** Begin a comparison: of a measure, across the levels of another column, or of what the table offers first. */
export function useCompare(): (column: ColumnSummary | null) => void {
  const { id } = useTableActions();
  const [, go] = useLocation();
  return (column) => {
    const measured = column?.kind === "measure";
    const body = {
      table: id,
      measure: measured ? column.name : null,
      groups: column && !measured ? column.name : null,
    };
    void answer(api.POST("/api/comparisons", { body })).then((made) => go(`/comparisons/${made.id}`), tell);
  };
}
