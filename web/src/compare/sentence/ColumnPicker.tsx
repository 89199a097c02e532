import { Popover } from "radix-ui";
import { type KeyboardEvent, type ReactNode, useId, useMemo, useRef, useState } from "react";
import type { ColumnSummary } from "../../api/generated";
import { Shape } from "../../ui/Shape";
import { useFar } from "../store/BenchContext";

/** A column on offer, with the reason where it does not fit. */
export interface Offer {
  column: ColumnSummary;
  unfit: string | null;
  /** How well it fits; the best come first. */
  fits: number;
}

interface Props {
  name: string;
  value: string | null;
  offers: Offer[];
  /** A first line that chooses no column. */
  nothing?: string;
  onChoose: (column: string | null) => void;
  /** The recipe's path that it changes. */
  path: string;
  /** What stands beside the columns: more about the chosen one. */
  pane?: ReactNode;
  children: ReactNode;
}

/** A word of the sentence that opens a searchable list of columns, each with its own small picture. */
export function ColumnPicker({ name, value, offers, nothing, onChoose, path, pane, children }: Props) {
  const [open, setOpen] = useState(false);
  const [search, setSearch] = useState("");
  const [at, setAt] = useState(0);
  const id = useId();
  const list = useRef<HTMLDivElement>(null);
  const matches = useMemo(() => {
    const word = search.trim().toLowerCase();
    const match = offers.filter((offer) => offer.column.name.toLowerCase().includes(word));
    const fit = match.filter((o) => !o.unfit).sort((a, b) => b.fits - a.fits);
    const sorted = [...fit, ...match.filter((o) => o.unfit)];
    return nothing !== undefined && !word ? [null, ...sorted] : sorted;
  }, [offers, search, nothing]);
  const fit = matches.filter((offer) => !offer?.unfit);

  const choose = (offer: Offer | null | undefined) => {
    if (offer === undefined || offer?.unfit) return;
    setOpen(false);
    onChoose(offer?.column.name ?? null);
  };
  const move = (to: number) => {
    const next = Math.max(0, Math.min(fit.length - 1, to));
    setAt(next);
    list.current?.children[next]?.scrollIntoView({ block: "nearest" });
  };
  const onKey = (event: KeyboardEvent) => {
    const moves: Record<string, number> = { ArrowDown: at + 1, ArrowUp: at - 1, Home: 0, End: fit.length - 1 };
    const to = moves[event.key];
    if (to !== undefined) move(to);
    else if (event.key === "Enter") choose(fit[at]);
    else return;
    event.preventDefault();
  };
  const onOpen = (now: boolean) => {
    setOpen(now);
    setSearch("");
    setAt(
      Math.max(
        0,
        fit.findIndex((offer) => (offer?.column.name ?? null) === value),
      ),
    );
  };

  return (
    <Popover.Root open={open} onOpenChange={onOpen}>
      <Popover.Trigger
        data-path={path}
        className={value === null && nothing !== undefined ? "word-nothing" : "word"}
        aria-label={`${name}: ${value ?? (nothing === undefined ? "several" : "nothing")}`}
      >
        {children}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={8}
          collisionPadding={12}
          className="z-30 flex rounded-lg bg-sheet shadow-float"
        >
          <div className="w-96 p-2">
            <input
              role="combobox"
              aria-expanded="true"
              aria-controls={id}
              aria-activedescendant={`${id}-${at}`}
              aria-label={`Search columns for ${name}`}
              placeholder="Search columns"
              value={search}
              onChange={(event) => {
                setSearch(event.target.value);
                setAt(0);
              }}
              onKeyDown={onKey}
              className="mb-2 w-full rounded border border-hairline px-3 py-1.5"
            />
            <div ref={list} id={id} role="listbox" aria-label={name} className="max-h-[60vh] overflow-y-auto">
              {matches.map((offer) => {
                const place = fit.indexOf(offer);
                const chosen = (offer?.column.name ?? null) === value;
                return (
                  <div
                    key={offer?.column.name ?? ""}
                    id={place < 0 ? undefined : `${id}-${place}`}
                    role="option"
                    aria-selected={chosen}
                    aria-disabled={place < 0}
                    onClick={() => choose(offer)}
                    onKeyDown={onKey}
                    onMouseMove={() => place >= 0 && setAt(place)}
                    className={`flex items-center gap-3 rounded px-3 py-2 ${place === at && place >= 0 ? "bg-bench" : ""} ${place < 0 ? "cursor-default text-muted" : ""}`}
                  >
                    {offer ? (
                      <OfferRow offer={offer} chosen={chosen} />
                    ) : (
                      <span className="text-muted">{nothing}</span>
                    )}
                  </div>
                );
              })}
              {matches.length === 0 && <p className="px-3 py-4 text-muted">No column is called that.</p>}
            </div>
          </div>
          {pane && <div className="max-h-[72vh] w-80 overflow-y-auto border-l border-hairline p-4">{pane}</div>}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function OfferRow({ offer: { column, unfit }, chosen }: { offer: Offer; chosen: boolean }) {
  const about = useFar() ? "≈" : "";
  const many = `${about}${column.distinct} ${column.kind === "measure" ? "values" : "levels"}`;
  return (
    <>
      <span className="min-w-0 flex-1">
        <span className={`block truncate ${chosen ? "font-bold text-petrol" : unfit ? "" : "font-bold"}`}>
          {column.name} {column.unit && <span className="font-normal text-muted">{column.unit}</span>}
        </span>
        <span className="block text-[12.5px] text-muted">
          {unfit ?? `${column.kind} · ${many}${column.missing ? ` · ${about}${column.missing} missing` : ""}`}
        </span>
      </span>
      <Shape column={column} />
    </>
  );
}
