import { type QueryKey, useQueryClient } from "@tanstack/react-query";
import { tell } from "./Notices";

/** For a change that was refused: says why, and reads again what it was made from. */
export function useRefusal(queryKey: QueryKey): (fault: unknown) => void {
  const client = useQueryClient();
  return (fault) => {
    tell(fault);
    void client.invalidateQueries({ queryKey });
  };
}
