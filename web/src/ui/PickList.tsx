import { Checkbox } from "radix-ui";
import { useId, useState } from "react";
import { Button } from "./Button";

/** A thing on offer: its name, how many rows it has, and a word beside it. */
export interface Offered {
  name: string;
  count?: number;
  word?: string;
}

interface Props {
  label: string;
  /** The recipe's path that it changes. */
  path?: string;
  offered: Offered[];
  chosen: string[];
  /** At least one stays chosen. */
  onChange: (chosen: string[]) => void;
  /** Usual choices of several, by name. */
  usual?: { name: string; names: string[] }[];
  /** What else can be done with the ones that are not chosen, such as joining them. */
  onRest?: { name: string; run: (rest: string[]) => void } | undefined;
  /** How many there are in all, where not all of them are known here. */
  all?: number;
}

const SHORT = 8;
const LARGEST = 10;
const ORDERS = { "as they come": null, "by name": byName, "largest first": bySize } as const;
type Order = keyof typeof ORDERS;

/** All of several, searched and sorted, each ticked or not, with the quick ways to the usual choices. */
export function PickList({ label, path, offered, chosen, onChange, usual = [], onRest, all }: Props) {
  const id = useId();
  const [search, setSearch] = useState("");
  const [order, setOrder] = useState<Order>("as they come");
  // Nothing can be shown of nothing: until the first tick what was chosen stands.
  const [emptied, setEmptied] = useState(false);
  const now = new Set(emptied ? [] : chosen);
  const counted = offered.some(({ count }) => count !== undefined);
  const word = search.trim().toLowerCase();
  const by = ORDERS[order];
  const shown = offered.filter(({ name }) => name.toLowerCase().includes(word));
  const sorted = by ? [...shown].sort(by) : shown;
  const choose = (names: Set<string>) => {
    setEmptied(names.size === 0);
    if (names.size) onChange(offered.map(({ name }) => name).filter((name) => names.has(name)));
  };
  const tick = (name: string, on: boolean) => {
    const next = new Set(now);
    if (on) next.add(name);
    else next.delete(name);
    choose(next);
  };
  const largest = [...offered].sort(bySize).slice(0, LARGEST);
  const rest = offered.map(({ name }) => name).filter((name) => !now.has(name));
  return (
    <fieldset data-path={path} className="grid grid-cols-[minmax(0,1fr)] gap-1.5 text-[13px]">
      <legend className="mb-1 font-bold">
        {label}{" "}
        <span className="font-normal text-muted">
          {now.size} of {all ?? offered.length}
        </span>
      </legend>
      {offered.length > SHORT && (
        <div className="flex gap-2">
          <input
            aria-label={`Search ${label}`}
            placeholder="Search"
            value={search}
            onChange={(event) => setSearch(event.target.value)}
            className="min-w-0 flex-1 rounded border border-hairline px-2 py-1"
          />
          <select
            aria-label={`Order of ${label}`}
            value={order}
            onChange={(event) => setOrder(event.target.value as Order)}
            className="rounded border border-hairline bg-sheet px-1 py-1"
          >
            {Object.keys(ORDERS)
              .filter((name) => counted || name !== "largest first")
              .map((name) => (
                <option key={name}>{name}</option>
              ))}
          </select>
        </div>
      )}
      <p className="flex flex-wrap gap-x-3">
        <Quick
          name={word ? "All found" : "All"}
          run={() => choose(new Set(word ? [...now, ...names(shown)] : names(offered)))}
        />
        <Quick name="None" run={() => choose(new Set())} />
        {counted && offered.length > LARGEST && (
          <Quick name="The ten largest" run={() => choose(new Set(names(largest)))} />
        )}
        {usual.map(({ name, names }) => (
          <Quick key={name} name={name} run={() => choose(new Set(names))} />
        ))}
        {onRest && rest.length > 1 && <Quick name={onRest.name} run={() => onRest.run(rest)} />}
      </p>
      <div className="max-h-[34vh] overflow-y-auto">
        {sorted.map(({ name, count, word }, place) => (
          <div key={name} className="group flex items-center gap-2 py-0.5">
            <Checkbox.Root
              id={`${id}${place}`}
              checked={now.has(name)}
              onCheckedChange={(on) => tick(name, on === true)}
              className="grid size-4 shrink-0 place-items-center rounded-sm border border-muted data-[state=checked]:border-petrol data-[state=checked]:bg-petrol"
            >
              <Checkbox.Indicator className="text-xs leading-none text-sheet">✓</Checkbox.Indicator>
            </Checkbox.Root>
            <label htmlFor={`${id}${place}`} className="min-w-0 flex-1 truncate" title={name}>
              {name}
            </label>
            <button
              type="button"
              aria-label={`Only ${name}`}
              onClick={() => choose(new Set([name]))}
              className="text-[12px] text-petrol opacity-0 group-hover:opacity-100 focus:opacity-100"
            >
              only
            </button>
            <span className="number text-[12px] text-muted">{count ?? word}</span>
          </div>
        ))}
        {sorted.length === 0 && <p className="text-muted">Nothing is called that.</p>}
      </div>
      {emptied && <p className="text-warn">Tick one: a figure needs something to show.</p>}
      {all !== undefined && all > offered.length && (
        <p className="text-muted">
          The first {offered.length} of {all} in the table’s order; a figure has no more lanes.
        </p>
      )}
    </fieldset>
  );
}

function Quick({ name, run }: { name: string; run: () => void }) {
  return (
    <Button look="quiet" className="!p-0 !font-normal" onClick={run}>
      {name}
    </Button>
  );
}

function names(offered: Offered[]): string[] {
  return offered.map(({ name }) => name);
}

function byName(a: Offered, b: Offered): number {
  return a.name.localeCompare(b.name, undefined, { numeric: true });
}

function bySize(a: Offered, b: Offered): number {
  return (b.count ?? 0) - (a.count ?? 0);
}
