import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { answer, api } from "../api/client";
import type { FolioState, SetFolio } from "../api/generated";
import { tell } from "../ui/Notices";

export type FolioChange = (now: FolioState) => Partial<SetFolio>;

/** A folio, its pages as drawn, and the keeping of changes to it. */
export function useFolio(id: string) {
  const client = useQueryClient();
  const key = ["folio", id];
  const saving = useRef(Promise.resolve());
  const [onTheWay, setOnTheWay] = useState(0);
  const { data: folio, error } = useQuery({
    queryKey: key,
    queryFn: () => answer(api.GET("/api/folios/{folio_id}", { params: { path: { folio_id: id } } })),
  });
  const pages = useQuery({
    queryKey: [...key, "pages", folio?.revision],
    queryFn: () => answer(api.GET("/api/folios/{folio_id}/pages", { params: { path: { folio_id: id } } })),
    // While a change is on its way the server would still draw the page before it.
    enabled: (folio?.figures.length ?? 0) > 0 && onTheWay === 0,
    retry: false,
    placeholderData: (before) => before,
  });
  const shown = () => client.getQueryData<FolioState>(key);
  const set = (next: FolioState) => client.setQueryData(key, next);

  const save = async () => {
    const now = shown();
    if (!now) return;
    const { revision, name, page } = now;
    const figures = now.figures.map((figure) => figure.comparison);
    const change: SetFolio = { revision, name, page, figures };
    try {
      const kept = await answer(
        api.PUT("/api/folios/{folio_id}", { params: { path: { folio_id: id } }, body: change }),
      );
      const later = shown();
      // What changed meanwhile stays on screen until it is saved itself.
      set(later === now || !later ? kept : { ...later, revision: kept.revision });
      void client.invalidateQueries({ queryKey: ["studies"] });
    } catch (fault) {
      tell(fault);
      await client.invalidateQueries({ queryKey: key, exact: true });
    }
  };
  /** Shown at once; saved one after another, each on what the one before left. */
  const keep = (change: FolioChange) => {
    const before = shown();
    if (!before) return;
    set(changed(before, change(before)));
    // Counting also draws in the same turn: the cache alone tells a turn later, and a ticked box would flicker.
    setOnTheWay((count) => count + 1);
    saving.current = saving.current.then(save).finally(() => setOnTheWay((count) => count - 1));
  };
  const lock = async (reason: string) => {
    set(
      await answer(
        api.PUT("/api/folios/{folio_id}/lock", { params: { path: { folio_id: id } }, body: { reason } }),
      ),
    );
  };
  return { folio, error, pages, busy: onTheWay > 0, keep, lock };
}

/** The folio as it will be once a change is saved. */
function changed(now: FolioState, { figures, ...rest }: Partial<SetFolio>): FolioState {
  if (!figures) return { ...now, ...rest };
  const chosen = figures.map((id) => now.offered.find((figure) => figure.comparison === id));
  return { ...now, ...rest, figures: chosen.filter((figure) => figure !== undefined) };
}
