// @vitest-environment jsdom
import { act, renderHook, waitFor } from "@testing-library/react";
import type { ReactNode } from "react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { useStore } from "zustand";
import { beginStep, type StepRecord } from "../src/table/steps";
import {
  TableProvider,
  useOutcome,
  useStepContext,
  useTableActions,
  useTableBench,
  useTableState,
} from "../src/table/store/TableContext";
import { useNotices } from "../src/ui/Notices";
import { columns } from "./figures";
import { around, refusal, serve } from "./serving";

const HERE = "tables/t1";
const context = { columns, tables: [] };
const renamed = (to: string) => ({ ...beginStep("rename", context, "arm"), to }) as StepRecord;
const combined = beginStep("combine", context);

function outcome(steps: StepRecord[]) {
  const states = steps.map((step) => ({ step, words: step.step, rows: 12, columns: 6, note: "" }));
  return { steps: states, stopped: null, rows: 12, rows_shown: 12, columns };
}

function TableOf({ children }: { children: ReactNode }) {
  const bench = useTableBench("t1");
  const table = useStore(bench.store, (state) => state.table);
  return table && <TableProvider bench={bench}>{children}</TableProvider>;
}

function useEverything() {
  const { tables } = useStepContext();
  return { ...useOutcome(), ...useTableActions(), ...useTableState((state) => state), tables };
}

/** A table over a server that keeps every preparation it is sent. */
async function opened() {
  let [steps, newest] = [[] as StepRecord[], 0];
  const table = () => ({
    id: "t1",
    study: "s1",
    role: "owner",
    told: { header_row: 1 },
    newest,
    outcome: outcome(steps),
  });
  const server = serve({
    [`GET ${HERE}`]: table,
    "GET studies/s1/tables": [{ id: "t1" }, { id: "t2" }],
    [`POST ${HERE}/try`]: ({ steps }: { steps: StepRecord[] }) => outcome(steps),
    [`POST ${HERE}/preparation`]: (body: { steps: StepRecord[] }) => {
      [steps, newest] = [body.steps, newest + 1];
      return table();
    },
  });
  const Around = around();
  const wrapper = ({ children }: { children: ReactNode }) => (
    <Around>
      <TableOf>{children}</TableOf>
    </Around>
  );
  const hook = renderHook(useEverything, { wrapper });
  await waitFor(() => expect(hook.result.current?.table?.id).toBe("t1"));
  const now = () => hook.result.current;
  return { server, now, sent: () => server.of(`POST ${HERE}/preparation`) };
}

describe("a table under preparation", () => {
  beforeEach(() => useNotices.setState({ notices: [] }));
  afterEach(() => vi.unstubAllGlobals());

  it("tries a step once it is whole, and keeps nothing of it", async () => {
    const { server, now, sent } = await opened();
    act(() => now().store.setState({ draft: { at: 0, added: true, step: renamed("") } }));
    await waitFor(() => expect(now().before?.rows).toBe(12));
    expect(server.of(`POST ${HERE}/try`)).toEqual([{ steps: [] }]);
    act(() => now().store.setState({ draft: { at: 0, added: true, step: renamed("group") } }));
    await waitFor(() => expect(now().outcome?.steps).toHaveLength(1));
    expect(now().steps).toEqual([renamed("group")]);
    expect([now().settled, sent()]).toEqual([[], []]);
  });

  it("puts a changed step in its place and a new one between others", async () => {
    const { now } = await opened();
    await act(() => now().settle([renamed("one"), combined]));
    act(() => now().store.setState({ draft: { at: 0, added: false, step: renamed("two") } }));
    expect(now().steps).toEqual([renamed("two"), combined]);
    act(() => now().store.setState({ draft: { at: 1, added: true, step: renamed("three") } }));
    expect(now().steps).toEqual([renamed("one"), renamed("three"), combined]);
  });

  it("goes back and forth by revisions, each on the newest", async () => {
    const { now, sent } = await opened();
    expect([now().past, now().future]).toEqual([[], []]);
    await act(() => now().settle([renamed("one")]));
    await act(() => now().settle([renamed("one")]));
    await act(() => now().settle([renamed("one"), combined]));
    act(() => void now().walk("past"));
    await waitFor(() => expect(now().settled).toEqual([renamed("one")]));
    act(() => void now().walk("future"));
    await waitFor(() => expect(now().settled).toEqual([renamed("one"), combined]));
    act(() => void now().walk("past"));
    await waitFor(() => expect(now().settled).toEqual([renamed("one")]));
    await act(() => now().settle([]));
    await waitFor(() => expect(now().future).toEqual([]));
    expect(sent().map((body) => (body as { revision: number; steps: StepRecord[] }).revision)).toEqual([
      0, 1, 2, 3, 4, 5,
    ]);
  });

  it("takes two quick presses of undo as two steps", async () => {
    const { now, sent } = await opened();
    await act(() => now().settle([renamed("one")]));
    await act(() => now().settle([renamed("one"), combined]));
    act(() => {
      void now().walk("past");
      void now().walk("past");
    });
    await waitFor(() => expect(now().past).toEqual([]));
    expect(sent().slice(2)).toEqual([
      { revision: 2, steps: [renamed("one")] },
      { revision: 3, steps: [] },
    ]);
  });

  it("keeps what is settled while another save is on its way, and both on the way back", async () => {
    const { now, sent } = await opened();
    await act(async () => {
      const first = now().settle([renamed("one")]);
      await Promise.all([first, now().settle([renamed("one"), combined])]);
    });
    expect(sent().map((body) => (body as { revision: number }).revision)).toEqual([0, 1]);
    act(() => void now().walk("past"));
    await waitFor(() => expect(now().settled).toEqual([renamed("one")]));
    act(() => void now().walk("past"));
    await waitFor(() => expect(now().settled).toEqual([]));
    expect(now().past).toEqual([]);
  });

  it("shows the settled table where a step cannot be, and why", async () => {
    const { server, now } = await opened();
    server.answer(`POST ${HERE}/try`, ({ steps }: { steps: StepRecord[] }) =>
      steps.length ? refusal(422, "There is a column of this name") : outcome(steps),
    );
    act(() => now().store.setState({ draft: { at: 0, added: true, step: renamed("level") } }));
    await waitFor(() => expect(now().fault?.what).toBe("There is a column of this name"));
    expect(now().steps).toEqual([]);
    expect(useNotices.getState().notices).toEqual([]);
  });

  it("keeps the draft and the way back where somebody else was faster", async () => {
    const { server, now } = await opened();
    server.answer(`POST ${HERE}/preparation`, refusal(409, "Somebody prepared it"));
    act(() => now().store.setState({ draft: { at: 0, added: true, step: renamed("group") } }));
    await act(() => now().settle([renamed("group")]));
    expect(useNotices.getState().notices[0]?.actions[0]?.name).toBe("Show theirs");
    expect(now().draft?.step).toEqual(renamed("group"));
    expect(now().past).toEqual([]);
  });

  it("does not offer to join the table with itself", async () => {
    const { now } = await opened();
    await waitFor(() => expect(now().tables).toEqual([{ id: "t2" }]));
  });
});
