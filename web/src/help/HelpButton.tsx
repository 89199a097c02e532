import { useMemo, useState } from "react";
import { Button } from "../ui/Button";
import { useKeys } from "../ui/useKeys";
import type { Place } from "./guide";
import { Help } from "./Help";

/** Opens help for a place; "?" does it too. */
export function HelpButton({ place }: { place: Place }) {
  const [open, setOpen] = useState(false);
  useKeys(useMemo(() => ({ "?": () => setOpen(true) }), []));
  return (
    <>
      <Button look="dark" title="?" onClick={() => setOpen(true)}>
        Help
      </Button>
      {open && <Help place={place} onClose={() => setOpen(false)} />}
    </>
  );
}
