import { useQuery } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import type { FigureOptions } from "../api/generated";

/** Forms, layers and roles as they begin; the same for as long as the page lives. */
export function useFigureOptions(): FigureOptions | undefined {
  const { data } = useQuery({
    queryKey: ["forms"],
    queryFn: () => answer(api.GET("/api/forms")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return data;
}
