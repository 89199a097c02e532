import { Popover } from "radix-ui";
import { useState } from "react";
import { Button } from "../ui/Button";
import { beginStep, menuOf, type StepName } from "./steps";
import { useStepContext, useTableActions, useTableState } from "./store/TableContext";

/** "+ Next step": every kind of step in groups, found by typing. */
export function NextStep() {
  const bench = useTableActions();
  const context = useStepContext();
  const disabled = useTableState((state) => state.draft !== null);
  const [open, setOpen] = useState(false);
  const [search, setSearch] = useState("");
  const word = search.trim().toLowerCase();
  const begin = (name: StepName) => {
    setOpen(false);
    bench.begin(beginStep(name, context));
  };
  const groups = menuOf(context).map(
    ([group, forms]) =>
      [group, forms.filter(({ title, help }) => `${title} ${help}`.toLowerCase().includes(word))] as const,
  );
  const firstFit = groups.flatMap(([, forms]) => forms)[0]?.step;
  return (
    <Popover.Root
      open={open}
      onOpenChange={(now) => {
        setOpen(now);
        setSearch("");
      }}
    >
      <Popover.Trigger asChild>
        <Button look="quiet" disabled={disabled} className="shrink-0 disabled:opacity-40">
          + Next step
        </Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" sideOffset={6} className="z-30 w-[36rem] rounded-lg bg-sheet p-3 shadow-float">
          <input
            value={search}
            onChange={(event) => setSearch(event.target.value)}
            onKeyDown={(event) => event.key === "Enter" && firstFit && begin(firstFit)}
            aria-label="Search steps"
            placeholder="Search steps"
            className="mb-2 w-full rounded border border-hairline px-3 py-1.5"
          />
          <div className="grid max-h-[64vh] grid-cols-2 gap-x-4 overflow-y-auto">
            {groups.map(
              ([group, forms]) =>
                forms.length > 0 && (
                  <section key={group} aria-label={group} className="mb-2">
                    <h3 className="px-2 text-[12px] text-muted">{group}</h3>
                    {forms.map(({ step, title, help }) => (
                      <button
                        key={step}
                        type="button"
                        onClick={() => begin(step)}
                        title={help}
                        className="block w-full rounded px-2 py-1 text-left hover:bg-bench"
                      >
                        <span className="font-bold">{title}</span>
                        <span className="block truncate text-[12.5px] text-muted">{help}</span>
                      </button>
                    ))}
                  </section>
                ),
            )}
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
