import { useLocation } from "wouter";
import { answer, api } from "../api/client";
import { Button } from "../ui/Button";
import { tell } from "../ui/Notices";

/** Begins an empty folio in a study, and opens it. */
export function BeginFolio({ study }: { study: string }) {
  const [, go] = useLocation();
  const begin = async () => go(`/folios/${(await answer(api.POST("/api/folios", { body: { study } }))).id}`);
  return (
    <Button look="quiet" className="!p-0 !font-normal" onClick={() => void begin().catch(tell)}>
      + Folio
    </Button>
  );
}
