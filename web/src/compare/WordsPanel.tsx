import { useId } from "react";
import { Field } from "../ui/Field";
import type { PanelProps } from "./panelProps";
import { withValue } from "./recipe";

const FIELDS = [
  { key: "title", name: "Title" },
  { key: "measure", name: "Axis label" },
  { key: "groups", name: "Groups label" },
  { key: "source", name: "Source" },
] as const;

/** What the reader reads. */
export function WordsPanel({ recipe, onSettle }: PanelProps) {
  const stem = useId();
  return (
    <div className="grid gap-3 px-4 py-4">
      {FIELDS.map(({ key, name }) => (
        <div key={key} className="grid gap-1">
          <label htmlFor={stem + key}>{name}</label>
          <Field
            id={stem + key}
            value={recipe.words[key]}
            maxLength={500}
            onSettle={(text) => {
              onSettle(withValue(recipe, ["words", key], text));
              return true;
            }}
            className="rounded border border-hairline bg-sheet px-2 py-1.5"
          />
        </div>
      ))}
    </div>
  );
}
