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
          onChange={(columns) => change(withMeasures(recipe, columns, comparison.columns))}
        />
      )}
      <PartSettings part="measure" />
    </div>
  );
}
