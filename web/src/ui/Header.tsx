import type { ReactNode } from "react";
import { Link } from "wouter";
import { Sign } from "./Sign";

/** The dark bar at the top of every bench. */
export function Header({ place, children }: { place?: ReactNode; children?: ReactNode }) {
  return (
    <header className="flex h-11 shrink-0 items-center gap-3 bg-ink px-4 text-sheet">
      <Link href="/" className="flex items-center gap-3 font-bold" aria-label="Echelle: all studies">
        <Sign />
        Echelle
      </Link>
      <div className="flex min-w-0 items-center gap-2 text-sheet/80">{place}</div>
      <div className="ml-auto flex items-center gap-1">{children}</div>
    </header>
  );
}
