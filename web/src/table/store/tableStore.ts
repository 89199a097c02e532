import { MutationObserver, type QueryClient, QueryObserver } from "@tanstack/react-query";
import { createStore, type StoreApi } from "zustand/vanilla";
import { answer, api, Refused } from "../../api/client";
import { FOLLOW, newer } from "../../api/follow";
import type { ReadingOptions, TableState } from "../../api/generated";
import { followReading, refusalOf } from "../../api/uploads";
import { tell } from "../../ui/Notices";
import { lacking, type StepRecord, same } from "../steps";

/** A step being written: where it stands, and what it says so far. */
export interface Draft {
  at: number;
  added: boolean;
  step: StepRecord;
}

/** By which column rows stand in order. */
export interface Sorting {
  column: string;
  down: boolean;
}

/** What a table bench shows, and what its reader looks at. */
export interface TableBenchState {
  table: TableState | null;
  error: Error | null;
  /** The step on trial, over the settled ones. */
  draft: Draft | null;
  /** Lists of steps that undo and redo lead to, the next one last. */
  past: StepRecord[][];
  future: StepRecord[][];
  /** Whether nothing kept lies before what was undone. */
  beginning: boolean;
  sort: Sorting | null;
  /** The row to be seen, by its place; a new object shows it again. */
  lit: { place: number } | null;
}

const BEGINNING: TableBenchState = {
  table: null,
  error: null,
  draft: null,
  past: [],
  future: [],
  beginning: false,
  sort: null,
  lit: null,
};

/** The steps that are kept. */
export function settledSteps({ table }: Pick<TableBenchState, "table">): StepRecord[] {
  return table?.outcome.steps.map(({ step }) => step) ?? [];
}

/** The kept steps with the one on trial in its place; null while that lacks something. */
export function triedSteps({ table, draft }: Pick<TableBenchState, "table" | "draft">): StepRecord[] | null {
  if (!draft || lacking(draft.step) !== null) return null;
  const steps = settledSteps({ table });
  const rest = draft.added ? steps.slice(draft.at) : steps.slice(draft.at + 1);
  return [...steps.slice(0, draft.at), draft.step, ...rest];
}

/** A table bench: its state, and what can be done with it. */
export type TableBenchStore = ReturnType<typeof createTableBench>;

/** The bench of a table under preparation. */
export function createTableBench(id: string, client: QueryClient) {
  const store: StoreApi<TableBenchState> = createStore(() => BEGINNING);
  const { getState, setState } = store;
  const key = ["table", id];
  const params = { path: { table_id: id } };

  /** Follow the table on the server until the returned function is called. */
  const open = () => {
    const queryFn = async () => {
      const next = await answer(api.GET("/api/tables/{table_id}", { params }));
      return newer(next, newest(), (state) => state.newest);
    };
    const observer = new QueryObserver(client, { queryKey: key, queryFn, refetchInterval: FOLLOW });
    const follow = () => {
      const { data, error } = observer.getCurrentResult();
      setState({ table: data ?? null, error });
    };
    const stop = observer.subscribe(follow);
    follow();
    return stop;
  };

  const take = (next: TableState) => {
    client.setQueryData(["table", next.id], next);
    void client.invalidateQueries({ queryKey: ["tables"] });
    void client.invalidateQueries({ queryKey: ["comparison"] });
  };

  /** The newest table there is, drawn or not. */
  const newest = () => client.getQueryData<TableState>(key) ?? null;

  /** Changes go one after the other, each from what the one before led to; false where one was refused. */
  const change = async (call: (now: TableState) => Promise<TableState>): Promise<boolean> => {
    const now = newest();
    if (!now) return false;
    try {
      take(await call(now));
      return true;
    } catch (fault) {
      const stale = fault instanceof Refused && fault.status === 409;
      const reload = () => void client.invalidateQueries({ queryKey: key });
      tell(fault, stale ? [{ name: "Show theirs", run: reload }] : []);
      return false;
    }
  };
  const inTurn = (act: () => Promise<unknown>): Promise<unknown> =>
    new MutationObserver(client, { scope: { id: `table ${id}` }, networkMode: "always", mutationFn: act }).mutate();

  const save = (steps: StepRecord[]) =>
    change(({ newest }) =>
      answer(api.POST("/api/tables/{table_id}/preparation", { params, body: { revision: newest, steps } })),
    );

  const remember = (before: StepRecord[]) => setState(({ past }) => ({ past: [...past, before], future: [] }));

  /** Keep steps as the next revision. */
  const settle = (next: StepRecord[]) =>
    inTurn(async () => {
      const now = settledSteps({ table: newest() });
      const unchanged = same(now, next);
      if (!unchanged && !(await save(next))) return;
      setState({ draft: null });
      if (!unchanged) remember(now);
    });

  /** Where the kept history was read back to: undo goes on from there after a reload. */
  let read: number | null = null;
  /** The last kept list of steps before that which differs from the present one. */
  const kept = async (now: StepRecord[]): Promise<StepRecord[] | null> => {
    read ??= newest()?.newest ?? 0;
    while (read > 0) {
      read -= 1;
      const query = { revision: read };
      const then = await answer(api.GET("/api/tables/{table_id}", { params: { ...params, query } }));
      const steps = settledSteps({ table: then });
      if (!same(steps, now)) return steps;
    }
    setState({ beginning: true });
    return null;
  };

  /** Undo or redo: an older list of steps becomes the newest revision. */
  const walk = (way: "past" | "future") =>
    inTurn(async () => {
      const now = settledSteps({ table: newest() });
      const next = getState()[way].at(-1) ?? (way === "past" ? await kept(now) : null);
      if (!next || !(await save(next))) return;
      const back = way === "past" ? "future" : "past";
      setState((state) => ({ [way]: state[way].slice(0, -1), [back]: [...state[back], now], draft: null }));
    });

  /** Leave one row out for the whole table. */
  const leaveOut = (row: number, reason: string) =>
    inTurn(async () => {
      const before = settledSteps({ table: newest() });
      const left = await change(({ newest }) =>
        answer(
          api.POST("/api/tables/{table_id}/left-out", { params, body: { revision: newest, key: row, reason } }),
        ),
      );
      if (left) remember(before);
    });

  /** Read the file in another way; the id of the table that comes of it and takes this one's place. */
  const readAgain = async (options: Partial<ReadingOptions>): Promise<string | null> => {
    const { table } = getState();
    if (!table) return null;
    const asked = await answer(
      api.POST("/api/tables/{table_id}/read", { params, body: { ...table.told, ...options } }),
    );
    const read = await followReading(asked, () => undefined);
    const refusal = refusalOf(read);
    if (refusal) throw refusal;
    await client.invalidateQueries({ queryKey: key });
    await client.invalidateQueries({ queryKey: ["studies"] });
    return read.table;
  };

  /** Begin a step at the end. */
  const begin = (step: StepRecord) =>
    setState((state) => ({ draft: { at: settledSteps(state).length, added: true, step } }));
  /** Change a kept step. */
  const edit = (at: number) =>
    setState((state) => {
      const step = settledSteps(state)[at];
      return step ? { draft: { at, added: false, step } } : {};
    });
  const write = (step: StepRecord) => setState(({ draft }) => ({ draft: draft && { ...draft, step } }));
  const cancel = () => setState({ draft: null });
  const sortBy = (sort: Sorting | null) => setState({ sort });
  const show = (place: number | null) => setState({ lit: place === null ? null : { place } });

  return { id, store, open, settle, walk, leaveOut, readAgain, begin, edit, write, cancel, sortBy, show };
}
