import { MutationObserver, type QueryClient } from "@tanstack/react-query";
import { createStore, type StoreApi } from "zustand/vanilla";
import { answer, api, Refused } from "../../api/client";
import type { ComparisonState, Recipe, Scene } from "../../api/generated";
import { mayChange } from "../../roles";
import { tell, useNotices } from "../../ui/Notices";
import type { OpenDialog } from "../BenchDialogs";
import { withValue } from "../recipe";
import type { Looked } from "../rows/useRows";
import type { Sight } from "../sight";
import { dropDraft, heldDraft, holdDraft } from "./drafts";
import { opening } from "./prefetch";
import { Previewer } from "./previewer";
import { passes, untilAnswered } from "./retry";

/** So long must keys rest before their change is kept, in ms. */
const REST = 800;
/** So long is the figure of a change waited for before it is kept, in ms. */
const FIGURE_FIRST = 300;
/** What refusals of a figure are about. */
const FIGURE = "figure";

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
  /** The path of the recipe whose control is sought. */
  sought: string | null;
  /** Whether other questions of the table stand over the sheet; null: while nothing was chosen yet. */
  questions: boolean | null;
  /** Whether the figure fills the window. */
  full: boolean;
  sight: Sight;
  dialog: OpenDialog | null;
  /** States of the trail to set side by side. */
  pinned: number[];
  /** The rows that were brushed or asked for. */
  looked: Looked | null;
  /** Why the last change is not kept yet; null where everything is. */
  unsaved: string | null;
  /** Why the figure waits for the server; null where it does not. */
  away: string | null;
  /** Whether what was asked for last cannot be drawn, so that an earlier figure stands there. */
  refused: boolean;
  /** Who else has the comparison open. */
  others: string[];
}

const BEGINNING: BenchState = {
  comparison: null,
  error: null,
  draft: null,
  scene: null,
  row: null,
  layer: null,
  sought: null,
  questions: null,
  full: false,
  sight: "as it is",
  dialog: window.location.hash === "#remarks" ? "remarks" : null,
  pinned: [],
  looked: null,
  unsaved: null,
  away: null,
  refused: false,
  others: [],
};

type Change = (now: ComparisonState) => Promise<ComparisonState>;

/** A state as it is named by whatever leaves. */
export interface Settled {
  entry: number;
  digest: string;
}

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
    (scene) => setState({ scene, refused: false }),
    (fault, recipe) => {
      setState({ refused: true });
      refuse(fault, recipe);
      const settled = getState().comparison?.recipe;
      if (settled && recipe !== settled) previewer.ask(settled);
    },
    (away) => {
      if (away) useNotices.getState().over(FIGURE);
      setState({ away });
    },
  );

  /** Say why a recipe cannot be drawn, with the ways out of it; gone with the next change. */
  const refuse = (fault: unknown, recipe: Recipe) => {
    const mends = fault instanceof Refused ? fault.fault.mends : [];
    const actions = mends.map(({ words, changes }) => ({
      name: words,
      run: () => settle(changes.reduce((made, { path, value }) => withValue(made, path, value), recipe)),
    }));
    tell(fault, actions, FIGURE);
  };

  const take = (comparison: ComparisonState) => {
    // An answer that comes late tells of what was.
    if (comparison.revision < (getState().comparison?.revision ?? 0)) return;
    setState({ comparison });
    // Asked for again by whoever shows it next, not after each change.
    void client.invalidateQueries({ queryKey: ["studies"], refetchType: "none" });
  };

  let opened = false;
  const open = () => {
    if (opened) return;
    opened = true;
    const prefetched = opening(id);
    // A server that is away for a moment is waited for, as everywhere.
    let first: Promise<ComparisonState> | null = prefetched.comparison;
    const comparisonHere = () => {
      const next = first ?? answer(api.GET("/api/comparisons/{comparison_id}", { params }));
      first = null;
      return next;
    };
    untilAnswered(comparisonHere, (away) => setState({ away })).then(
      (comparison) => {
        setState({ comparison });
        const held = heldDraft(id);
        if (!held || !mayChange(comparison.role) || comparison.locked) {
          previewer.ask(comparison.recipe, prefetched.scene);
        } else if (JSON.stringify(held.recipe) === JSON.stringify(comparison.recipe)) {
          dropDraft(id);
          previewer.ask(comparison.recipe, prefetched.scene);
        } else settle(held.recipe, held.revision);
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
    const mutation = new MutationObserver(client, {
      scope: { id: `comparison ${id}` },
      networkMode: "always",
      mutationFn: async () => {
        if (!getState().comparison) return null;
        // The figure comes first: drawn beside it, both would take longer. A step back has none yet.
        if (!redraw) await previewer.drawn(FIGURE_FIRST);
        const next = await untilAnswered(
          () => change(getState().comparison as ComparisonState),
          (unsaved) => setState({ unsaved }),
        );
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
        if (fault instanceof Refused && fault.status === 409) return void conflict(fault).catch(tell);
        const asked = kept;
        if (asked && !redraw) refuse(fault, asked);
        else tell(fault);
        const settled = getState().comparison?.recipe;
        if (settled) previewer.ask(settled);
      },
    );
  };
  let saving: Promise<void> = Promise.resolve();

  /** Someone else was first: theirs is shown, and the next change begins from there; one's own is a branch of the trail. */
  const conflict = async (fault: Refused) => {
    await reload();
    const own = getState()
      .comparison?.trail.filter((entry) => entry.refused)
      .at(-1);
    tell(fault, own ? [{ name: "Show mine", run: () => goTo(own.number) }] : []);
  };

  /** Take what others changed, while nothing of one's own is on the way. */
  const follow = async () => {
    const idle = () => pending === 0 && !resting && !getState().draft && !getState().unsaved;
    const shown = getState().comparison;
    if (!shown || !idle()) return;
    const { mark, others } = await answer(api.GET("/api/comparisons/{comparison_id}/mark", { params }));
    if (others.join() !== getState().others.join()) setState({ others });
    if (mark === shown.mark || !idle() || getState().comparison !== shown) return;
    const next = await answer(api.GET("/api/comparisons/{comparison_id}", { params }));
    if (!idle() || getState().comparison !== shown) return;
    take(next);
    if (next.head !== shown.head || next.digest !== shown.digest) previewer.ask(next.recipe);
  };

  /** Show a recipe on the way; nothing is kept of it. */
  const preview = (recipe: Recipe) => {
    // Asked for before the page renders anything, which takes as long as the server takes to draw it.
    previewer.ask(recipe);
    useNotices.getState().over(FIGURE);
    setState({ draft: recipe });
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

  /** Keep a recipe as a state of the trail; ``from`` is the revision it was made from, where that is another than the newest. */
  const settle = (recipe: Recipe, from?: number) => {
    flush();
    preview(recipe);
    kept = recipe;
    holdDraft(id, { recipe, revision: from ?? getState().comparison?.revision ?? 0 });
    save(async (now) => {
      const body = { revision: from ?? now.revision, recipe };
      // Kept or refused for good it is the browser's no more, unless a newer one took its place there.
      const over = () => kept === recipe && dropDraft(id);
      return answer(api.POST("/api/comparisons/{comparison_id}/trail", { params, body })).then(
        (next) => {
          over();
          return next;
        },
        (fault) => {
          if (!passes(fault)) over();
          throw fault;
        },
      );
    }, false);
  };

  let forming: Promise<void> = Promise.resolve();
  /** Keep what the shown recipe is turned into, from whatever is shown when that is known. */
  const settleFrom = (turn: (shown: Recipe) => Promise<Recipe>, keep: (recipe: Recipe) => void) => {
    flush();
    const turned = async () => {
      for (;;) {
        const shown = recipeOf(getState());
        if (!shown) return;
        const next = await turn(shown);
        // By what it says: a state that was just kept comes back as another object.
        if (JSON.stringify(recipeOf(getState())) === JSON.stringify(shown)) return keep(next);
      }
    };
    forming = forming.then(turned).catch(tell);
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
  const settledHead = async (): Promise<Settled | null> => {
    flush();
    await forming;
    await saving;
    const now = getState().comparison;
    return now && { entry: now.head, digest: now.digest };
  };

  /** Draw the shown recipe again: what it is drawn of has grown. */
  const redraw = () => {
    const shown = recipeOf(getState());
    if (shown) previewer.ask(shown);
  };

  /** Something besides the figure changed: take it at once. */
  const reloadMark = () => void follow().catch(() => undefined);

  const look = (
    part: Partial<
      Pick<BenchState, "row" | "layer" | "sought" | "questions" | "full" | "sight" | "dialog" | "looked">
    >,
  ) => setState(part);
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
    settleFrom,
    follow,
    redraw,
    reloadMark,
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
