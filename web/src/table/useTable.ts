import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef, useState } from "react";
import { useLocation } from "wouter";
import { answer, api, Refused } from "../api/client";
import type { ReadingOptions, TableState } from "../api/generated";
import { tell } from "../ui/Notices";
import { lacking, type StepRecord, same } from "./steps";

/** A step being written: where it stands, and what it says so far. */
export interface Draft {
  at: number;
  added: boolean;
  step: StepRecord;
}

/** Lists of steps that undo and redo lead to, the next one last. */
interface Ways {
  past: StepRecord[][];
  future: StepRecord[][];
}

/** A table under preparation: its settled steps, the draft over them, and what they lead to. */
export function useTable(id: string) {
  const client = useQueryClient();
  const [, go] = useLocation();
  const key = ["table", id];
  const { data: table, error } = useQuery({
    queryKey: key,
    queryFn: () => answer(api.GET("/api/tables/{table_id}", { params: { path: { table_id: id } } })),
  });
  const settled = table?.outcome.steps.map((state) => state.step) ?? [];
  const study = table?.study;
  const { data: tables } = useQuery({
    queryKey: ["tables", study],
    queryFn: () =>
      answer(api.GET("/api/studies/{study_id}/tables", { params: { path: { study_id: study ?? "" } } })),
    enabled: study !== undefined && table?.role !== "viewer",
  });

  const [draft, setDraft] = useState<Draft | null>(null);
  const whole = draft !== null && lacking(draft.step) === null;
  const steps = draft && whole ? withDraft(settled, draft) : settled;
  const tried = useQuery({
    queryKey: ["try", id, steps],
    queryFn: () =>
      answer(api.POST("/api/tables/{table_id}/try", { params: { path: { table_id: id } }, body: { steps } })),
    enabled: whole,
    retry: false,
    placeholderData: (before) => before,
  });
  const before = useQuery({
    queryKey: ["try", id, settled.slice(0, draft?.at ?? 0)],
    queryFn: () =>
      answer(
        api.POST("/api/tables/{table_id}/try", {
          params: { path: { table_id: id } },
          body: { steps: settled.slice(0, draft?.at ?? 0) },
        }),
      ),
    enabled: draft !== null,
    retry: false,
  });

  const [ways, setWays] = useState<Ways>({ past: [], future: [] });
  // What the next press goes by, drawn or not.
  const known = useRef(ways);
  const remember = (next: Ways) => {
    known.current = next;
    setWays(next);
  };
  // Whatever keeps steps waits for what came before it, however fast the presses.
  const turn = useRef(Promise.resolve());
  const inTurn = (act: () => Promise<void>): Promise<void> => {
    turn.current = turn.current.then(act);
    return turn.current;
  };
  const stepsNow = () =>
    (client.getQueryData<TableState>(["table", id])?.outcome.steps ?? []).map((state) => state.step);
  const take = useCallback(
    (next: TableState) => {
      client.setQueryData(["table", next.id], next);
      void client.invalidateQueries({ queryKey: ["tables"] });
      void client.invalidateQueries({ queryKey: ["comparison"] });
    },
    [client],
  );

  const save = async (next: StepRecord[]): Promise<boolean> => {
    const now = client.getQueryData<TableState>(["table", id]);
    if (!now) return false;
    try {
      take(
        await answer(
          api.POST("/api/tables/{table_id}/preparation", {
            params: { path: { table_id: id } },
            body: { revision: now.newest, steps: next },
          }),
        ),
      );
      setDraft(null);
      return true;
    } catch (fault) {
      const stale = fault instanceof Refused && fault.status === 409;
      tell(
        fault,
        stale ? { name: "Show theirs", run: () => void client.invalidateQueries({ queryKey: key }) } : undefined,
      );
      return false;
    }
  };

  const ahead = (before: StepRecord[]) => remember({ past: [...known.current.past, before], future: [] });

  /** Keep steps as the next revision. */
  const settle = (next: StepRecord[]) =>
    inTurn(async () => {
      const now = stepsNow();
      if (same(now, next)) setDraft(null);
      else if (await save(next)) ahead(now);
    });

  /** Undo or redo: an older list of steps becomes the newest revision. */
  const walk = (way: "past" | "future") =>
    inTurn(async () => {
      const back = way === "past" ? "future" : "past";
      const [from, now] = [known.current[way], stepsNow()];
      const next = from.at(-1);
      if (!next || !(await save(next))) return;
      remember({ ...known.current, [way]: from.slice(0, -1), [back]: [...known.current[back], now] });
    });

  /** Read the file in another way; the table that comes of it takes this one's place. */
  const readAgain = async (options: Partial<ReadingOptions>) => {
    if (!table) return;
    try {
      const next = await answer(
        api.POST("/api/tables/{table_id}/read", {
          params: { path: { table_id: id } },
          body: { ...table.told, ...options },
        }),
      );
      take(next);
      await client.invalidateQueries({ queryKey: ["studies"] });
      go(`/tables/${next.id}`, { replace: true });
    } catch (fault) {
      tell(fault);
    }
  };

  /** Leave one row out for the whole table. */
  const leaveOut = (row: number, reason: string) =>
    inTurn(async () => {
      const [now, before] = [client.getQueryData<TableState>(["table", id]), stepsNow()];
      if (!now) return;
      try {
        take(
          await answer(
            api.POST("/api/tables/{table_id}/left-out", {
              params: { path: { table_id: id } },
              body: { revision: now.newest, key: row, reason },
            }),
          ),
        );
        ahead(before);
      } catch (fault) {
        tell(fault);
      }
    });

  const fault = whole && tried.error instanceof Refused ? tried.error.fault : null;
  return {
    table,
    error,
    settled,
    steps: draft && !fault ? steps : settled,
    outcome: (whole && !fault ? tried.data : undefined) ?? table?.outcome,
    before: before.data,
    fault,
    tables: (tables ?? []).filter((link) => link.id !== id),
    draft,
    setDraft,
    settle,
    readAgain,
    leaveOut,
    undo: ways.past.length ? () => void walk("past") : null,
    redo: ways.future.length ? () => void walk("future") : null,
  };
}

function withDraft(steps: StepRecord[], draft: Draft): StepRecord[] {
  const rest = draft.added ? steps.slice(draft.at) : steps.slice(draft.at + 1);
  return [...steps.slice(0, draft.at), draft.step, ...rest];
}
