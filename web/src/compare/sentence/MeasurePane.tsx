import type { ColumnSummary } from "../../api/generated";
import { PickList } from "../../ui/PickList";
import { PartSettings } from "../panels/PartSettings";
import { withMeasures } from "../recipe";
import { useRights, useShown } from "../store/BenchContext";

/** Beside the columns on offer: any of the measures side by side, one lane each. */
export function MeasurePane() {
  const { comparison, recipe } = useShown();
  const { change } = useRights();
  const measures = comparison.columns.filter(({ kind }) => kind === "measure");
  const offered = measures.map(({ name, unit }) => ({ name, word: unit ?? "" }));
  const chosen = recipe.measure.columns.map(
    (written) =>
      measures.find(({ name, unit }) => written === name || written === `${name} (${unit})`)?.name ?? written,
  );
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] content-start gap-3">
      {offered.length > 1 && (
        <PickList
          label="Side by side"
          offered={offered}
          chosen={chosen}
          usual={inOneUnit(measures)}
          onChange={(columns) => change(withMeasures(recipe, columns, comparison.columns))}
        />
      )}
      <PartSettings part="measure" />
    </div>
  );
}

/** All measures of each unit that several have. */
function inOneUnit(measures: ColumnSummary[]): { name: string; names: string[] }[] {
  const byUnit = new Map<string, string[]>();
  for (const { name, unit } of measures) byUnit.set(unit ?? "", [...(byUnit.get(unit ?? "") ?? []), name]);
  return [...byUnit]
    .filter(([, names]) => names.length > 1)
    .map(([unit, names]) => ({
      name: `all ${names.length} columns ${unit ? `in ${unit}` : "without a unit"}`,
      names,
    }));
}
