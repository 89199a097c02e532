import { useQuery } from "@tanstack/react-query";
import { put } from "../api/client";
import type { Scene } from "../api/generated";
import { SceneView } from "./SceneView";

/** A state of a comparison in small; states never change, so each is fetched once. */
export function Miniature({
  comparison,
  state,
  scale,
}: {
  comparison: string;
  state: string | number;
  scale: number;
}) {
  const entry = typeof state === "number" ? state : null;
  const { data } = useQuery({
    queryKey: ["miniature", comparison, state],
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () => put<Scene>("POST", `comparisons/${comparison}/scene`, { entry, miniature: true }),
  });
  // A press must land on what stays: browsers drop a click whose pressed element was replaced before the release.
  return (
    <div className="pointer-events-none">
      {data ? <SceneView scene={data} scale={scale} /> : <div style={{ width: 96 * scale, height: 64 * scale }} />}
    </div>
  );
}
