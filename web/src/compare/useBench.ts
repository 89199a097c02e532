import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { answer, api, Refused } from "../api/client";
import type { ComparisonState, Recipe, Scene } from "../api/generated";
import { tell } from "../ui/Notices";
import { opening } from "./prefetch";
import { Previewer } from "./previewer";

/** So long must keys rest before their change is kept, in ms. */
const REST = 800;

/** A comparison under work: its settled state, the draft over it, and the scene that is drawn. */
export function useBench(id: string) {
  const client = useQueryClient();
  const key = ["comparison", id];
  const [draft, setDraft] = useState<Recipe | null>(null);
  const [scene, setScene] = useState<Scene | null>(null);
  const saving = useRef<Promise<void>>(Promise.resolve());
  const pending = useRef(0);
  const kept = useRef<Recipe | null>(null);
  const settled = useRef<Recipe | null>(null);
  const [previewer] = useState(
    () =>
      new Previewer(
        id,
        (drawn) => setScene(drawn),
        (fault, recipe) => {
          tell(fault);
          if (recipe !== settled.current && settled.current) previewer.ask(settled.current);
        },
      ),
  );
  const begun = useRef(false);
  const { data: comparison, error } = useQuery({
    queryKey: key,
    // Opened anew it is asked anew: others may have changed it.
    gcTime: 0,
    queryFn: async () => {
      if (begun.current)
        return answer(api.GET("/api/comparisons/{comparison_id}", { params: { path: { comparison_id: id } } }));
      const ahead = opening(id);
      const found = await ahead.comparison;
      begun.current = true;
      previewer.ask(found.recipe, ahead.scene);
      return found;
    },
  });
  settled.current = comparison?.recipe ?? null;

  const take = useCallback(
    (next: ComparisonState) => {
      client.setQueryData(["comparison", id], next);
      void client.invalidateQueries({ queryKey: ["studies"] });
    },
    [client, id],
  );

  /** Take the server's newest state and draw it. */
  const reload = useCallback(async () => {
    const next = await answer(
      api.GET("/api/comparisons/{comparison_id}", { params: { path: { comparison_id: id } } }),
    );
    take(next);
    setDraft(null);
    previewer.ask(next.recipe);
  }, [id, take, previewer]);

  /** Changes of revision go one after the other; a refused one leaves the settled state. */
  const save = useCallback(
    (change: (now: ComparisonState) => Promise<ComparisonState>, redraw: boolean) => {
      pending.current += 1;
      // A draft that came after the last change, as in a drag, stays until it is kept itself.
      const clear = (all: boolean) => {
        pending.current -= 1;
        if (pending.current === 0) setDraft((now) => (all || now === kept.current ? null : now));
      };
      saving.current = saving.current.then(async () => {
        const now = client.getQueryData<ComparisonState>(["comparison", id]);
        if (!now) return clear(true);
        try {
          const next = await change(now);
          take(next);
          clear(redraw);
          if (redraw) previewer.ask(next.recipe);
        } catch (fault) {
          clear(true);
          const stale = fault instanceof Refused && fault.status === 409;
          tell(fault, stale ? { name: "Show theirs", run: () => void reload().catch(tell) } : undefined);
          previewer.ask(now.recipe);
        }
      });
    },
    [client, id, take, previewer, reload],
  );

  /** Show a recipe on the way; nothing is kept of it. */
  const preview = useCallback(
    (recipe: Recipe) => {
      setDraft(recipe);
      previewer.ask(recipe);
    },
    [previewer],
  );

  /** What was changed by keys and waits for a rest before it is kept. */
  const resting = useRef<{ what: string; keep: () => void; timer: number } | null>(null);
  const flush = useCallback(() => {
    const waiting = resting.current;
    if (!waiting) return;
    clearTimeout(waiting.timer);
    resting.current = null;
    waiting.keep();
  }, []);
  useEffect(() => flush, [flush]);

  /** Keep a recipe as a state of the trail. */
  const settle = useCallback(
    (recipe: Recipe) => {
      flush();
      preview(recipe);
      kept.current = recipe;
      save(
        ({ revision }) =>
          answer(
            api.POST("/api/comparisons/{comparison_id}/trail", {
              params: { path: { comparison_id: id } },
              body: { revision, recipe },
            }),
          ),
        false,
      );
    },
    [id, preview, save, flush],
  );

  /** Show a recipe, and keep it once nothing more changes for a while: steps of one control by keys become one state. */
  const rest = useCallback(
    (recipe: Recipe, what: string) => {
      if (resting.current?.what !== what) flush();
      else clearTimeout(resting.current.timer);
      preview(recipe);
      const keep = () => {
        resting.current = null;
        settle(recipe);
      };
      resting.current = { what, keep, timer: window.setTimeout(keep, REST) };
    },
    [preview, settle, flush],
  );

  /** Show another state of the trail. */
  const goTo = useCallback(
    (entry: number) => {
      flush();
      save(
        ({ revision }) =>
          answer(
            api.PUT("/api/comparisons/{comparison_id}/head", {
              params: { path: { comparison_id: id } },
              body: { revision, entry },
            }),
          ),
        true,
      );
    },
    [id, save, flush],
  );

  /** Undo or redo from wherever the changes under way lead to: two quick presses are two steps. */
  const step = useCallback(
    (way: "undo" | "redo") => {
      flush();
      const there = async (now: ComparisonState) => {
        const entry = now[way];
        if (entry === null) return now;
        return answer(
          api.PUT("/api/comparisons/{comparison_id}/head", {
            params: { path: { comparison_id: id } },
            body: { revision: now.revision, entry },
          }),
        );
      };
      save(there, true);
    },
    [id, save, flush],
  );

  /** Change something of the comparison that is no state: a name, dismissed advice. */
  const saveMeta = useCallback((call: Promise<ComparisonState>) => void call.then(take, tell), [take]);

  /** Draw the shown recipe over the newest file and preparation from now on. */
  const takeNewest = useCallback(() => {
    save(
      ({ revision }) =>
        answer(
          api.POST("/api/comparisons/{comparison_id}/newest", {
            params: { path: { comparison_id: id } },
            body: { revision },
          }),
        ),
      true,
    );
  }, [id, save]);

  /** The shown state once every change under way is kept. */
  const settledHead = useCallback(async () => {
    flush();
    await saving.current;
    return client.getQueryData<ComparisonState>(["comparison", id])?.head ?? null;
  }, [client, id, flush]);

  return {
    comparison,
    error,
    recipe: draft ?? comparison?.recipe ?? null,
    scene,
    preview,
    settle,
    rest,
    goTo,
    step,
    takeNewest,
    saveMeta,
    reload,
    take,
    settledHead,
  };
}
