import { Popover } from "radix-ui";
import { useState } from "react";
import type { ColumnSummary, Recipe } from "../../api/generated";
import { PickList } from "../../ui/PickList";
import { keptLevels, keptWords, withKept } from "../recipe";
import { useFar } from "../store/BenchContext";

const MOST_OPEN = 40;

interface Props {
  recipe: Recipe;
  columns: ColumnSummary[];
  onChange: (recipe: Recipe) => void;
}

/** Which rows are kept: levels of any category, ticked or not. */
export function KeepPicker({ recipe, columns, onChange }: Props) {
  const options = columns.filter((c) => c.levels.length > 0);
  const kept = options.filter((column) => keptLevels(recipe, column));
  const about = useFar() ? "≈" : "";
  const [opened, setOpened] = useState<string | null>(null);
  // Short lists stand open all together; of long ones one at a time.
  const short = options.reduce((sum, column) => sum + column.levels.length, 0) <= MOST_OPEN;
  const words = recipe.keep.map(keptWords).join("; ");
  return (
    <Popover.Root>
      <Popover.Trigger
        data-path="keep"
        className={`max-w-72 truncate align-bottom ${words ? "word" : "word-nothing"}`}
        aria-label={`Rows kept: ${words || "all rows"}`}
      >
        {words || "all rows"}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={8}
          collisionPadding={12}
          className="z-30 grid max-h-[70vh] w-80 gap-2 overflow-y-auto rounded-lg bg-sheet p-4 shadow-float"
        >
          {options.length === 0 && <p className="text-muted">No column has levels to choose from.</p>}
          {options.map((column) => {
            const all = column.levels.map((l) => l.level);
            const open = short || (opened ?? kept[0]?.name ?? options[0]?.name) === column.name;
            if (!open)
              return (
                <button
                  key={column.name}
                  type="button"
                  aria-expanded="false"
                  onClick={() => setOpened(column.name)}
                  className="flex justify-between gap-3 text-left font-bold hover:text-petrol"
                >
                  <span className="truncate">{column.name}</span>
                  <span className="font-normal text-muted">
                    {keptLevels(recipe, column)?.length ?? "all"} of {about}
                    {column.distinct}
                  </span>
                </button>
              );
            return (
              <PickList
                key={column.name}
                label={column.name}
                offered={column.levels.map(({ level, count }) => ({ name: level, count }))}
                chosen={keptLevels(recipe, column) ?? all}
                all={column.distinct}
                onChange={(now) => {
                  setOpened(column.name);
                  onChange(withKept(recipe, column, now));
                }}
              />
            );
          })}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
