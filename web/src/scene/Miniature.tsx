import { useQuery } from "@tanstack/react-query";
import { put } from "../api/client";
import type { Scene } from "../api/generated";
import { keepColumns } from "./points";
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
    queryFn: async () => {
      const scene = await put<Scene>("POST", `comparisons/${comparison}/scene`, { entry, miniature: true });
      keepColumns(scene);
      return scene;
    },
  });
  if (!data) return <div style={{ width: 96 * scale, height: 64 * scale }} />;
  return <SceneView scene={data} scale={scale} />;
}
