import { useId } from "react";
import type { Recipe } from "../../api/generated";
import { Choice } from "../../ui/Choice";
import { Field } from "../../ui/Field";
import { typedNumber } from "../../ui/numbers";
import { PickRow } from "../../ui/PickRow";
import { Row } from "../../ui/Row";
import { GuidesPanel } from "../guides/GuidesPanel";
import { showsOnly, withValue } from "../recipe";
import { useRights, useShown } from "../store/BenchContext";

const RUNS = [
  { value: "across", name: "Across" },
  { value: "up", name: "Up" },
] as const;

const SCALES: Recipe["axis"]["scale"][] = ["linear", "log10", "ln", "square-root"];

/** Which way lanes run, and what part of the measure the axis shows. */
export function AxisPanel() {
  const { recipe } = useShown();
  const { change: onSettle } = useRights();
  const [counts, stems] = [showsOnly(recipe, "counts"), showsOnly(recipe, "stem")];
  const ends = counts ? "second_axis" : "axis";
  const end = (key: "from" | "to") => (value: number | null) => onSettle(withValue(recipe, [ends, key], value));
  const change = (key: "runs" | "scale", value: string) => onSettle(withValue(recipe, ["axis", key], value));
  return (
    <div className="grid gap-3 px-4 py-4">
      <Row name="Lanes run">
        <Choice
          name="Lanes run"
          value={recipe.axis.runs}
          options={RUNS}
          onChange={(runs) => change("runs", runs)}
        />
      </Row>
      {!counts && !stems && (
        <PickRow
          name="Scale"
          value={recipe.axis.scale}
          options={SCALES}
          onPick={(scale) => scale && change("scale", scale)}
        />
      )}
      <End name="Axis from" value={recipe[ends].from} onSettle={end("from")} />
      <End name="Axis to" value={recipe[ends].to} onSettle={end("to")} />
      <p className="text-muted">
        {counts
          ? "This axis counts rows. Scale, ends and guides of the measure stay with the other forms."
          : "Leave an end empty to let the data decide. Values out of view stay in every number."}
        {stems && " Stems stand at even steps: their axis is linear."}
      </p>
      {!counts && <GuidesPanel />}
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
  const settle = (text: string) => {
    const typed = typedNumber(text);
    if (typed === null && text !== "") return false;
    onSettle(typed);
    return true;
  };
  return (
    <Row name={name} id={id}>
      <Field
        id={id}
        inputMode="decimal"
        placeholder="the data"
        value={value === null ? "" : String(value)}
        onSettle={settle}
        className="number rounded border border-hairline bg-sheet px-2 py-1"
      />
    </Row>
  );
}
