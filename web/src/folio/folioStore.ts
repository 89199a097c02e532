import { MutationObserver, type QueryClient, QueryObserver } from "@tanstack/react-query";
import { createStore, type StoreApi } from "zustand/vanilla";
import { answer, api } from "../api/client";
import { FOLLOW, newer } from "../api/follow";
import type { FolioState, SetFolio } from "../api/generated";
import type { Signature } from "../ui/LockBar";
import { tell } from "../ui/Notices";

export type FolioChange = (now: FolioState) => Partial<SetFolio>;

/** What a folio bench shows. */
export interface FolioBenchState {
  folio: FolioState | null;
  error: Error | null;
  /** How many changes are on their way. */
  pending: number;
  dialog: "share" | "lock" | null;
}

const BEGINNING: FolioBenchState = { folio: null, error: null, pending: 0, dialog: null };

/** A folio bench: its state, and what can be done with it. */
export type FolioBenchStore = ReturnType<typeof createFolioBench>;

/** The bench of a folio. */
export function createFolioBench(id: string, client: QueryClient) {
  const store: StoreApi<FolioBenchState> = createStore(() => BEGINNING);
  const { getState, setState } = store;
  const params = { path: { folio_id: id } };
  const read = () => answer(api.GET("/api/folios/{folio_id}", { params }));

  /** Follow the folio on the server until the returned function is called. */
  const open = () => {
    const queryFn = async () => newer(await read(), getState().folio, ({ revision }) => revision);
    const observer = new QueryObserver(client, { queryKey: ["folio", id], queryFn, refetchInterval: FOLLOW });
    const follow = () => {
      const { data, error } = observer.getCurrentResult();
      // A change that is not kept yet is not taken back by an answer from before it.
      setState(({ folio, pending }) => ({ folio: pending > 0 ? folio : (data ?? folio), error }));
    };
    const stop = observer.subscribe(follow);
    follow();
    return stop;
  };

  const save = async () => {
    const now = getState().folio;
    if (!now) return;
    const { revision, name, page } = now;
    const figures = now.figures.map(({ comparison }) => comparison);
    const kept = await answer(
      api.PUT("/api/folios/{folio_id}", { params, body: { revision, name, page, figures } }),
    );
    client.setQueryData(["folio", id], kept);
    // What changed meanwhile stays on screen until it is saved itself.
    setState(({ folio, pending }) => ({
      folio: pending > 1 && folio ? { ...folio, revision: kept.revision } : kept,
    }));
    // Asked for again by whoever shows it next, not after each change.
    void client.invalidateQueries({ queryKey: ["studies"], refetchType: "none" });
  };

  /** Shown at once; saved one after another, each on what the one before left. */
  const keep = (change: FolioChange) => {
    const before = getState().folio;
    if (!before) return;
    setState(({ pending }) => ({ folio: changed(before, change(before)), pending: pending + 1 }));
    const mutation = new MutationObserver(client, {
      scope: { id: `folio ${id}` },
      networkMode: "always",
      mutationFn: save,
    });
    void mutation
      .mutate()
      .catch(async (fault) => {
        tell(fault);
        const folio = await read().catch(() => null);
        if (folio) setState({ folio });
      })
      .finally(() => setState(({ pending }) => ({ pending: pending - 1 })));
  };

  const lock = async (signature: Signature) => {
    const body = { ...signature, revision: getState().folio?.revision ?? 0 };
    const folio = await answer(api.PUT("/api/folios/{folio_id}/lock", { params, body }));
    client.setQueryData(["folio", id], folio);
    setState({ folio });
  };

  const show = (dialog: FolioBenchState["dialog"]) => setState({ dialog });

  return { id, store, open, keep, lock, show };
}

/** The folio as it will be once a change is saved. */
function changed(now: FolioState, { figures, ...rest }: Partial<SetFolio>): FolioState {
  if (!figures) return { ...now, ...rest };
  const chosen = figures.map((id) => now.offered.find(({ comparison }) => comparison === id));
  return { ...now, ...rest, figures: chosen.filter((figure) => figure !== undefined) };
}
