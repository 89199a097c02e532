import { MutationObserver, type QueryClient } from "@tanstack/react-query";
import { createStore, type StoreApi } from "zustand/vanilla";
import { answer, api, Refused } from "../../api/client";
import type { ComparisonState, Recipe, Scene } from "../../api/generated";
import { tell } from "../../ui/Notices";
import type { OpenDialog } from "../BenchDialogs";
import type { Looked } from "../rows/useRows";
import type { Sight } from "../sight";
import { opening } from "./prefetch";
import { Previewer } from "./previewer";

/** So long must keys rest before their change is kept, in ms. */
const REST = 800;

/** What a bench shows, and what its reader looks at. */
export interface BenchState {
  comparison: ComparisonState | null;
  error: Error | null;
  /** The recipe on the way, over the settled one. */
  draft: Recipe | null;
  scene: Scene | null;
  /** The row whose card is open. */
  row: number | null;
  /** The layer whose settings are open. */
  layer: string | null;
  /** Whether the figure fills the window. */
  full: boolean;
  sight: Sight;
  dialog: OpenDialog | null;
  /** States of the trail to set side by side. */
  pinned: number[];
  /** The rows that were brushed or asked for. */
  looked: Looked | null;
}

const BEGINNING: BenchState = {
  comparison: null,
  error: null,
  draft: null,
  scene: null,
  row: null,
  layer: null,
  full: false,
  sight: "as it is",
  dialog: null,
  pinned: [],
  looked: null,
};

type Change = (now: ComparisonState) => Promise<ComparisonState>;

/** The recipe that is shown. */
export const recipeOf = ({ draft, comparison }: BenchState): Recipe | null => draft ?? comparison?.recipe ?? null;

/** A bench: its state, and what can be done with it. */
export type BenchStore = ReturnType<typeof createBench>;

/** The bench of a comparison; it asks for what it begins with when it is opened. */
export function createBench(id: string, client: QueryClient) {
  const store: StoreApi<BenchState> = createStore(() => BEGINNING);
  const { getState, setState } = store;
  const params = { path: { comparison_id: id } };
  const previewer = new Previewer(
    id,
    (scene) => setState({ scene }),
    (fault, recipe) => {
      tell(fault);
      const settled = getState().comparison?.recipe;
      if (settled && recipe !== settled) previewer.ask(settled);
    },
  );

  const take = (comparison: ComparisonState) => {
    setState({ comparison });
    void client.invalidateQueries({ queryKey: ["studies"] });
  };

  let opened = false;
  const open = () => {
    if (opened) return;
    opened = true;
    const prefetched = opening(id);
    prefetched.comparison.then(
      (comparison) => {
        setState({ comparison });
        previewer.ask(comparison.recipe, prefetched.scene);
      },
      (error: Error) => setState({ error }),
    );
  };

  /** Take the server's newest state and draw it. */
  const reload = async () => {
    const next = await answer(api.GET("/api/comparisons/{comparison_id}", { params }));
    take(next);
    setState({ draft: null });
    previewer.ask(next.recipe);
  };

  let pending = 0;
  let kept: Recipe | null = null;
  // A draft that came after the last change, as in a drag, stays until it is kept itself.
  const finish = (all: boolean) => {
    pending -= 1;
    if (pending === 0) setState(({ draft }) => ({ draft: all || draft === kept ? null : draft }));
  };

  /** Changes of revision go one after the other, each from what the one before led to; a refused one leaves the settled state. */
  const save = (change: Change, redraw: boolean) => {
    pending += 1;
    const before = { current: null as ComparisonState | null };
    const mutation = new MutationObserver(client, {
      scope: { id: `comparison ${id}` },
      networkMode: "always",
      mutationFn: async () => {
        before.current = getState().comparison;
        if (!before.current) return null;
        const next = await change(before.current);
        // Before the next change begins: it starts from here.
        take(next);
        return next;
      },
    });
    saving = mutation.mutate().then(
      (next) => {
        if (!next) return finish(true);
        finish(redraw);
        if (redraw) previewer.ask(next.recipe);
      },
      (fault) => {
        finish(true);
        const stale = fault instanceof Refused && fault.status === 409;
        tell(fault, stale ? { name: "Show theirs", run: () => void reload().catch(tell) } : undefined);
        if (before.current) previewer.ask(before.current.recipe);
      },
    );
  };
  let saving: Promise<void> = Promise.resolve();

  /** Show a recipe on the way; nothing is kept of it. */
  const preview = (recipe: Recipe) => {
    setState({ draft: recipe });
    previewer.ask(recipe);
  };

  /** What was changed by keys and waits for a rest before it is kept. */
  let resting: { what: string; keep: () => void; timer: number } | null = null;
  const flush = () => {
    const waiting = resting;
    if (!waiting) return;
    clearTimeout(waiting.timer);
    resting = null;
    waiting.keep();
  };

  /** Keep a recipe as a state of the trail. */
  const settle = (recipe: Recipe) => {
    flush();
    preview(recipe);
    kept = recipe;
    save(
      ({ revision }) =>
        answer(api.POST("/api/comparisons/{comparison_id}/trail", { params, body: { revision, recipe } })),
      false,
    );
  };

  /** Show a recipe, and keep it once nothing more changes for a while: steps of one control by keys become one state. */
  const rest = (recipe: Recipe, what: string) => {
    if (resting?.what !== what) flush();
    else clearTimeout(resting.timer);
    preview(recipe);
    const keep = () => {
      resting = null;
      settle(recipe);
    };
    resting = { what, keep, timer: window.setTimeout(keep, REST) };
  };

  const head = (revision: number, entry: number) =>
    answer(api.PUT("/api/comparisons/{comparison_id}/head", { params, body: { revision, entry } }));

  /** Show another state of the trail. */
  const goTo = (entry: number) => {
    flush();
    save(({ revision }) => head(revision, entry), true);
  };

  /** Undo or redo from wherever the changes under way lead to: two quick presses are two steps. */
  const step = (way: "undo" | "redo") => {
    flush();
    save(async (now) => {
      const entry = now[way];
      return entry === null ? now : head(now.revision, entry);
    }, true);
  };

  /** Change something of the comparison that is no state: a name, dismissed advice. */
  const saveMeta = (call: Promise<ComparisonState>) => void call.then(take, tell);

  /** Draw the shown recipe over the newest file and preparation from now on. */
  const takeNewest = () =>
    save(
      ({ revision }) => answer(api.POST("/api/comparisons/{comparison_id}/newest", { params, body: { revision } })),
      true,
    );

  /** The shown state once every change under way is kept. */
  const settledHead = async () => {
    flush();
    await saving;
    return getState().comparison?.head ?? null;
  };

  const look = (part: Partial<Pick<BenchState, "row" | "layer" | "full" | "sight" | "dialog" | "looked">>) =>
    setState(part);
  const pin = (entry: number) =>
    setState(({ pinned }) => ({
      pinned: pinned.includes(entry) ? pinned.filter((other) => other !== entry) : [...pinned, entry],
    }));

  return {
    id,
    store,
    open,
    reload,
    take,
    preview,
    settle,
    rest,
    flush,
    goTo,
    step,
    saveMeta,
    takeNewest,
    settledHead,
    look,
    pin,
  };
}
