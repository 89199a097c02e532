/** Several names, each ticked or not; they keep the order in which they were ticked. */
export function Ticks({ all, on, onChange }: { all: string[]; on: string[]; onChange: (names: string[]) => void }) {
  return (
    <div className="flex max-h-24 max-w-[34rem] flex-wrap gap-1 overflow-y-auto">
      {all.map((name) => {
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
  );
}
