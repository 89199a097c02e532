import { useState } from "react";
import { Button } from "../ui/Button";

interface Props {
  all: string[];
  on: string[];
  onChange: (names: string[]) => void;
}

/** From so many names on they are searched. */
const MANY = 12;

/** Several names, each ticked or not, all or none at once; they keep the order in which they were ticked. */
export function Ticks({ all, on, onChange }: Props) {
  const [search, setSearch] = useState("");
  const word = search.trim().toLowerCase();
  const shown = word ? all.filter((name) => name.toLowerCase().includes(word)) : all;
  const more = shown.filter((name) => !on.includes(name));
  return (
    <div className="max-w-[34rem]">
      {all.length > MANY && (
        <p className="mb-1.5 flex items-center gap-3 text-[13px]">
          <input
            aria-label="Search names"
            placeholder="Search"
            value={search}
            onChange={(event) => setSearch(event.target.value)}
            className="input w-40"
          />
          <Button look="quiet" className="!p-0" disabled={!more.length} onClick={() => onChange([...on, ...more])}>
            {word ? `All ${shown.length} found` : `All ${all.length}`}
          </Button>
          <Button look="quiet" className="!p-0" disabled={!on.length} onClick={() => onChange([])}>
            None
          </Button>
          <span className="text-muted">
            {on.length} of {all.length}
          </span>
        </p>
      )}
      <div className="flex max-h-24 flex-wrap gap-1 overflow-y-auto">
        {shown.map((name) => {
          const ticked = on.includes(name);
          return (
            <button
              key={name}
              type="button"
              aria-pressed={ticked}
              onClick={() => onChange(ticked ? on.filter((n) => n !== name) : [...on, name])}
              className={`rounded-full border px-2.5 py-0.5 text-[13px] ${ticked ? "border-petrol bg-petrol text-sheet" : "border-hairline"}`}
            >
              {name}
            </button>
          );
        })}
      </div>
    </div>
  );
}
