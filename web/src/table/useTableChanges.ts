import { useQuery } from "@tanstack/react-query";
import { answer, api } from "../api/client";

/** What a table changed against the one that it replaced. */
export function useTableChanges(table: string, enabled = true) {
  return useQuery({
    queryKey: ["changes", table],
    queryFn: () => answer(api.GET("/api/tables/{table_id}/changes", { params: { path: { table_id: table } } })),
    enabled,
    staleTime: Number.POSITIVE_INFINITY,
  });
}
