import { useQuery } from "@tanstack/react-query";
import { answer, api } from "./client";
import type { FormatOffer } from "./generated";

/** The formats that figures are saved in, as the server writes them. */
export function useFormats(): FormatOffer[] {
  const { data } = useQuery({
    queryKey: ["formats"],
    queryFn: () => answer(api.GET("/api/formats")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return data ?? [];
}
