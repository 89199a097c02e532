import { useQuery, useQueryClient } from "@tanstack/react-query";
import { createContext, type ReactNode, useContext, useEffect, useState } from "react";
import { useStore } from "zustand";
import { answer, api, isLong } from "../api/client";
import type { FolioState, Scene } from "../api/generated";
import { useFileJob } from "../fileJobs/useFileJob";
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

/** Where the pages of a folio are held. */
export function pagesKey(folio: FolioState): readonly unknown[] {
  return ["folio", folio.id, "pages", folio.revision];
}

/** The pages as they will be printed, made by the worker where they take long. */
export function usePages() {
  const { id } = useFolioActions();
  const { state, bring, stop } = useFileJob();
  const { folio } = useFolio();
  const pending = useFolioState((state) => state.pending);
  const pages = useQuery({
    queryKey: pagesKey(folio),
    queryFn: ({ signal }) =>
      answer(api.GET("/api/folios/{folio_id}/pages", { params: { path: { folio_id: id } } })).catch(
        async (fault) => {
          if (!isLong(fault)) throw fault;
          const file = await bring({ what: "pages", folio: id }, signal);
          if (!file) throw new Error("The drawing of these pages was stopped");
          return (await file.json()) as Scene[];
        },
      ),
    // While a change is on its way the server would still draw the page before it.
    enabled: folio.figures.length > 0 && pending === 0,
    retry: false,
    placeholderData: (before) => before,
  });
  return { pages, state, stop };
}
