import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { answer, api } from "../api/client";
import type { DrawingState } from "../api/generated";
import { tell } from "../ui/Notices";
import { useBenchActions, useBenchState, useComparison } from "./store/BenchContext";
import { WorkBar } from "./WorkBar";

/** How often it is asked how far the drawing is, in ms. */
const LOOK = 500;

/** Of a figure that takes long: how far its drawing is; with a way to stop and to go on. */
export function FigureDrawn() {
  const comparison = useComparison();
  const { redraw } = useBenchActions();
  const client = useQueryClient();
  const away = useBenchState((state) => state.away !== null);
  const refused = useBenchState((state) => state.refused);
  const waits = away || refused;
  const key = ["drawings", comparison.id, refused];
  const { data } = useQuery({
    queryKey: key,
    queryFn: () =>
      answer(
        api.GET("/api/comparisons/{comparison_id}/drawings", {
          params: { path: { comparison_id: comparison.id } },
        }),
      ),
    enabled: waits,
    staleTime: 0,
    refetchInterval: away && LOOK,
  });
  const [drawing] = data ?? [];
  const was = drawing !== undefined;
  useEffect(() => {
    // Its state has a small picture now.
    if (was && !waits)
      void client.refetchQueries({
        queryKey: ["miniature", comparison.id],
        predicate: ({ state }) => state.status === "error",
      });
  }, [was, waits, client, comparison.id]);
  if (!waits || !drawing || drawing.state === "done" || drawing.state === "refused") return null;
  const goes = drawing.state !== "stopped";
  const turn = (path: "/api/drawings/{drawing_id}/stop" | "/api/drawings/{drawing_id}/go-on") =>
    void answer(api.POST(path, { params: { path: { drawing_id: drawing.id } } })).then((next) => {
      client.setQueryData(key, [next, ...(data ?? []).filter(({ id }) => id !== next.id)]);
      redraw();
    }, tell);
  return (
    <WorkBar
      words={words(drawing)}
      label="Seconds of the drawing"
      done={drawing.done}
      of={drawing.of}
      goes={goes}
      onTurn={() => turn(goes ? "/api/drawings/{drawing_id}/stop" : "/api/drawings/{drawing_id}/go-on")}
    />
  );
}

function words({ state, done, of }: DrawingState): string {
  const time = `${done} of about ${of} s`;
  if (state === "stopped") return `Stopped: this figure takes about ${of} s to draw`;
  return state === "waiting" ? `This figure takes about ${of} s to draw` : `This figure is being drawn: ${time}`;
}
