import { Checkbox, Popover } from "radix-ui";
import type { ColumnSummary, Recipe } from "../../api/generated";
import { keptLevels, keptWords, withKept } from "../recipe";

interface Props {
  recipe: Recipe;
  columns: ColumnSummary[];
  onChange: (recipe: Recipe) => void;
}

/** Which rows are kept: levels of any category, ticked or not. */
export function KeepPicker({ recipe, columns, onChange }: Props) {
  const options = columns.filter((c) => (c.kind === "category" || c.kind === "yes/no") && c.levels.length <= 60);
  const words = recipe.keep.map(keptWords).join("; ");
  return (
    <Popover.Root>
      <Popover.Trigger
        className={`max-w-72 truncate align-bottom ${words ? "word" : "word-nothing"}`}
        aria-label={`Rows kept: ${words || "all rows"}`}
      >
        {words || "all rows"}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={8}
          className="z-30 max-h-[70vh] w-80 overflow-y-auto rounded-lg bg-sheet p-4 shadow-float"
        >
          {options.length === 0 && <p className="text-muted">No column has levels to choose from.</p>}
          {options.map((column) => {
            const kept = keptLevels(recipe, column.name) ?? column.levels.map((l) => l.level);
            return (
              <fieldset key={column.name} className="mb-3">
                <legend className="mb-1 font-bold">{column.name}</legend>
                {column.levels.map(({ level, count }) => (
                  <label key={level} htmlFor={idOf(column.name, level)} className="flex items-center gap-2 py-0.5">
                    <Checkbox.Root
                      id={idOf(column.name, level)}
                      checked={kept.includes(level)}
                      onCheckedChange={(on) => onChange(ticked(recipe, column, kept, level, on === true))}
                      className="grid size-4 place-items-center rounded-sm border border-muted data-[state=checked]:border-petrol data-[state=checked]:bg-petrol"
                    >
                      <Checkbox.Indicator className="text-xs leading-none text-sheet">✓</Checkbox.Indicator>
                    </Checkbox.Root>
                    <span className="flex-1 truncate">{level}</span>
                    <span className="number text-[12.5px] text-muted">{count}</span>
                  </label>
                ))}
              </fieldset>
            );
          })}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function idOf(column: string, level: string): string {
  return `keep ${column} ${level}`.replaceAll(" ", "-");
}

/** All ticked means no condition; the last tick cannot go. */
function ticked(recipe: Recipe, column: ColumnSummary, kept: string[], level: string, on: boolean): Recipe {
  const now = column.levels.map((l) => l.level).filter((l) => (l === level ? on : kept.includes(l)));
  if (now.length === 0) return recipe;
  return withKept(recipe, column.name, now.length === column.levels.length ? null : now);
}
