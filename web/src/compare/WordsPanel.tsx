import { useEffect, useId, useState } from "react";
import type { PanelProps } from "./Panels";
import { withValue } from "./recipe";

const FIELDS = [
  { key: "title", name: "Title" },
  { key: "measure", name: "Axis label" },
  { key: "groups", name: "Groups label" },
  { key: "source", name: "Source" },
] as const;

/** What the reader reads. */
export function WordsPanel({ recipe, onSettle }: PanelProps) {
  return (
    <div className="grid gap-3 px-4 py-4">
      {FIELDS.map(({ key, name }) => (
        <Field
          key={key}
          name={name}
          value={recipe.words[key]}
          onSettle={(v) => onSettle(withValue(recipe, ["words", key], v))}
        />
      ))}
    </div>
  );
}

function Field({ name, value, onSettle }: { name: string; value: string; onSettle: (value: string) => void }) {
  const id = useId();
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const settle = () => text !== value && onSettle(text.trim());
  return (
    <div className="grid gap-1">
      <label htmlFor={id}>{name}</label>
      <input
        id={id}
        value={text}
        maxLength={500}
        onChange={(event) => setText(event.target.value)}
        onBlur={settle}
        onKeyDown={(event) => event.key === "Enter" && settle()}
        className="rounded border border-hairline bg-sheet px-2 py-1.5"
      />
    </div>
  );
}
