import { useQuery } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import type { StudyCards } from "../api/generated";

/** All studies of this person. */
export function useStudies(): StudyCards {
  const { data } = useQuery({ queryKey: ["studies"], queryFn: () => answer(api.GET("/api/studies")) });
  return data ?? [];
}
