import { useQuery } from "@tanstack/react-query";
import { get } from "../api/client";
import type { Offered } from "../api/generated";

/** Forms, layers and roles as they begin; the same for as long as the page lives. */
export function useOffered(): Offered | undefined {
  const { data } = useQuery({
    queryKey: ["forms"],
    queryFn: () => get<Offered>("forms"),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return data;
}
