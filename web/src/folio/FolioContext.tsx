import { useQuery, useQueryClient } from "@tanstack/react-query";
import { createContext, type ReactNode, useContext, useEffect, useState } from "react";
import { useStore } from "zustand";
import { answer, api } from "../api/client";
import type { FolioState } from "../api/generated";
import { mayChange } from "../roles";
import { createFolioBench, type FolioBenchState, type FolioBenchStore } from "./folioStore";

const Context = createContext<FolioBenchStore | null>(null);

/** The bench of a folio, opened. */
export function useFolioBench(id: string): FolioBenchStore {
  const client = useQueryClient();
  const [bench] = useState(() => createFolioBench(id, client));
  useEffect(() => bench.open(), [bench]);
  return bench;
}

/** Everything inside reads and changes this bench. */
export function FolioProvider({ bench, children }: { bench: FolioBenchStore; children: ReactNode }) {
  return <Context value={bench}>{children}</Context>;
}

/** What can be done with the folio. */
export function useFolioActions(): FolioBenchStore {
  const bench = useContext(Context);
  if (!bench) throw new Error("no folio is open here");
  return bench;
}

/** A part of the bench's state. */
export function useFolioState<T>(select: (state: FolioBenchState) => T): T {
  return useStore(useFolioActions().store, select);
}

/** The folio, and who looks: who may not change it, or whoever opens a locked one, keeps nothing. */
export function useFolio(): { folio: FolioState; viewer: boolean; looking: boolean } {
  const folio = useFolioState((state) => state.folio);
  if (!folio) throw new Error("the folio is not there yet");
  const viewer = !mayChange(folio.role);
  return { folio, viewer, looking: viewer || Boolean(folio.locked) };
}

/** The pages as they will be printed. */
export function usePages() {
  const { id } = useFolioActions();
  const { folio } = useFolio();
  const pending = useFolioState((state) => state.pending);
  return useQuery({
    queryKey: ["folio", id, "pages", folio.revision],
    queryFn: () => answer(api.GET("/api/folios/{folio_id}/pages", { params: { path: { folio_id: id } } })),
    // While a change is on its way the server would still draw the page before it.
    enabled: folio.figures.length > 0 && pending === 0,
    retry: false,
    placeholderData: (before) => before,
  });
}
