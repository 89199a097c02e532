import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { answer, api } from "../api/client";
import type { CountingState } from "../api/generated";
import { tell } from "../ui/Notices";
import { spaced } from "../words";
import { useBenchActions, useBenchState, useComparison, useRights } from "./store/BenchContext";
import { WorkBar } from "./WorkBar";

/** How often it is asked how far the counting is, and the figure is drawn again, in ms. */
const LOOK = 1_500;

/** Of a far table: how many files the figure is of, while they are being counted; with a way to stop and to go on. */
export function FilesCounted() {
  const comparison = useComparison();
  const { looking } = useRights();
  const { redraw } = useBenchActions();
  const client = useQueryClient();
  const files = useBenchState((state) => state.scene?.files ?? null);
  const away = useBenchState((state) => state.away !== null);
  const none = useBenchState((state) => state.scene === null);
  const early = files !== null && (files.done < files.of || files.cells);
  const key = ["countings", comparison.table];
  const { data } = useQuery({
    queryKey: key,
    queryFn: () =>
      answer(api.GET("/api/tables/{table_id}/countings", { params: { path: { table_id: comparison.table } } })),
    enabled: (query) => early || away || none || unfinished(query.state.data),
    refetchInterval: LOOK,
  });
  useEffect(() => {
    if (!early) return;
    const timer = setInterval(redraw, LOOK);
    return () => clearInterval(timer);
  }, [early, redraw]);
  const [counting] = data ?? [];
  const goes = counting?.state === "waiting" || counting?.state === "counting";
  // What was counted a moment ago is drawn already.
  if (!counting || counting.state === "done" || (goes && !early && !away && !none)) return null;
  const call = (path: "/api/countings/{counting_id}/stop" | "/api/countings/{counting_id}/go-on") =>
    void answer(api.POST(path, { params: { path: { counting_id: counting.id } } })).then((next) => {
      client.setQueryData(key, [next, ...(data ?? []).filter(({ id }) => id !== next.id)]);
      redraw();
    }, tell);
  return (
    <WorkBar
      words={words(counting, early ? files.done : null)}
      label="Files counted"
      done={counting.done}
      of={counting.of}
      goes={goes}
      {...(looking
        ? {}
        : {
            onTurn: () => call(goes ? "/api/countings/{counting_id}/stop" : "/api/countings/{counting_id}/go-on"),
          })}
    />
  );
}

/** Whether the newest counting is no counting that was done. */
function unfinished(data: CountingState[] | undefined): boolean {
  return data?.[0] !== undefined && data[0].state !== "done";
}

function words({ state, done, of, of_cells }: CountingState, shown: number | null): string {
  const far = `${spaced(done)} of ${spaced(of)} files`;
  if (of_cells) {
    const begins = { stopped: "Stopped: the", refused: "Ended: the" }[state as string] ?? "The";
    return `${begins} figure’s numbers are near their values; ${far} are read for the exact ones`;
  }
  const figure = shown === null ? "" : `; the figure is of ${spaced(shown)} so far`;
  if (state === "stopped") return `Stopped: ${far} are counted${figure}`;
  if (state === "refused") return `Counting ended: ${far} are counted${figure}`;
  return `${far} are counted${figure}`;
}
