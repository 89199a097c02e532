import { useQuery } from "@tanstack/react-query";
import { answer, api, isBeingCounted } from "../api/client";
import { useSeen } from "../ui/useSeen";
import { SceneView } from "./SceneView";

/** So long until a figure of files that are being counted is asked for again, in ms. */
const AGAIN = 2_000;

interface Props {
  comparison: string;
  state: string | number;
  scale: number;
  /** Not yet: something that matters more is on its way. */
  waits?: boolean;
}

/** A state of a comparison in small, once it comes into sight; states never change, so each is fetched once. */
export function Miniature({ comparison, state, scale, waits = false }: Props) {
  const [ref, seen] = useSeen<HTMLDivElement>();
  const entry = typeof state === "number" ? state : null;
  const { data, failureReason } = useQuery({
    queryKey: ["miniature", comparison, state],
    retry: (_, fault) => isBeingCounted(fault),
    retryDelay: AGAIN,
    staleTime: Number.POSITIVE_INFINITY,
    enabled: seen && !waits,
    queryFn: () =>
      answer(
        api.POST("/api/comparisons/{comparison_id}/scene", {
          params: { path: { comparison_id: comparison } },
          body: { entry, miniature: true },
        }),
      ),
  });
  // A press must land on what stays: browsers drop a click whose pressed element was replaced before the release.
  return (
    <div ref={ref} className="pointer-events-none">
      {data ? (
        <SceneView scene={data} scale={scale} />
      ) : (
        <div
          className="grid place-items-center text-[11px] text-muted"
          style={{ width: 96 * scale, height: 64 * scale }}
        >
          {isBeingCounted(failureReason) ? "being counted" : failureReason && "not drawn yet"}
        </div>
      )}
    </div>
  );
}
