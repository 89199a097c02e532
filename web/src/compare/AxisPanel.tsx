import { useEffect, useId, useState } from "react";
import { ChoiceRow, type PanelProps } from "./Panels";
import { withValue } from "./recipe";

const RUNS = [
  { value: "across", name: "Across" },
  { value: "up", name: "Up" },
] as const;

/** Which way lanes run, and what part of the measure the axis shows. */
export function AxisPanel({ recipe, onSettle }: PanelProps) {
  return (
    <div className="grid gap-3 px-4 py-4">
      <ChoiceRow
        name="Lanes run"
        value={recipe.axis.runs}
        options={RUNS}
        onChange={(runs) => onSettle(withValue(recipe, ["axis", "runs"], runs))}
      />
      <End
        name="Axis from"
        value={recipe.axis.from}
        onSettle={(v) => onSettle(withValue(recipe, ["axis", "from"], v))}
      />
      <End name="Axis to" value={recipe.axis.to} onSettle={(v) => onSettle(withValue(recipe, ["axis", "to"], v))} />
      <p className="text-muted">
        Leave an end empty to let the data decide. Values out of view stay in every number.
      </p>
    </div>
  );
}

function End({
  name,
  value,
  onSettle,
}: {
  name: string;
  value: number | null;
  onSettle: (value: number | null) => void;
}) {
  const id = useId();
  const [text, setText] = useState("");
  useEffect(() => setText(value === null ? "" : String(value)), [value]);
  const settle = () => {
    const typed = text.trim() === "" ? null : Number(text.replace(",", "."));
    if (typed !== null && !Number.isFinite(typed)) setText(value === null ? "" : String(value));
    else if (typed !== value) onSettle(typed);
  };
  return (
    <div className="grid grid-cols-[5.6rem_minmax(0,1fr)] items-center gap-2">
      <label htmlFor={id}>{name}</label>
      <input
        id={id}
        inputMode="decimal"
        placeholder="the data"
        value={text}
        onChange={(event) => setText(event.target.value)}
        onBlur={settle}
        onKeyDown={(event) => event.key === "Enter" && settle()}
        className="number rounded border border-hairline bg-sheet px-2 py-1"
      />
    </div>
  );
}
