import { useEffect, useState } from "react";
import { Button } from "../ui/Button";
import type { Place } from "./guide";
import { Help } from "./Help";

/** Opens help for a place; "?" does it too. */
export function HelpButton({ place }: { place: Place }) {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const within =
        event.target instanceof HTMLElement && event.target.closest("input, textarea, select, [role=dialog]");
      if (event.key === "?" && !within) setOpen(true);
    };
    document.addEventListener("keydown", onKey);
    return () => document.removeEventListener("keydown", onKey);
  }, []);
  return (
    <>
      <Button look="dark" title="?" onClick={() => setOpen(true)}>
        Help
      </Button>
      {open && <Help place={place} onClose={() => setOpen(false)} />}
    </>
  );
}
