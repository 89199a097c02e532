import { type PanelWay, panelColumn, panelWay, withPanels, withPanelsDown, withPanelWay } from "../recipe";
import { useRights, useShown } from "../store/BenchContext";
import { useFigureOptions } from "../useFigureOptions";
import { ColumnPicker } from "./ColumnPicker";
import { OptionWord } from "./OptionWord";
import { asSplit, Named, nameOf } from "./offers";
import { PanelPane } from "./PanelPane";

const WAYS: PanelWay[] = ["wrapped", "across", "down"];

/** "with a panel per ward across and per day down". */
export function PanelWords() {
  const { comparison, recipe } = useShown();
  const { change } = useRights();
  const options = useFigureOptions();
  const { columns } = comparison;
  const known = (name: string | null) => columns.find((column) => column.name === name);
  const taken = [recipe.measure.columns[0] ?? "", recipe.groups?.column ?? null, recipe.subgroups?.column ?? null];
  const panels = panelColumn(recipe);
  const panelsDown = recipe.panels.across ? (recipe.panels.down?.column ?? null) : null;
  return (
    <>
      with a panel per{" "}
      <ColumnPicker
        name="Panels"
        path={`panels.${panelWay(recipe)}.column`}
        pane={panels && <PanelPane />}
        value={panels && nameOf(columns, panels)}
        offers={columns.map((column) => asSplit(column, taken))}
        nothing="nothing: one panel"
        onChoose={(column) =>
          options && column !== panels && change(withPanels(recipe, column, options, known(column)))
        }
      >
        {panels ? <Named columns={columns} name={panels} /> : "nothing"}
      </ColumnPicker>
      {panels && (
        <>
          {" "}
          <OptionWord
            name="Panels run"
            path="panels"
            value={panelWay(recipe)}
            options={WAYS}
            words={(way) => way}
            onChoose={(way) => change(withPanelWay(recipe, way))}
          />
        </>
      )}
      {recipe.panels.across && (
        <>
          {" "}
          and per{" "}
          <ColumnPicker
            name="Panels down"
            path="panels.down"
            value={panelsDown && nameOf(columns, panelsDown)}
            offers={columns.map((column) => asSplit(column, [...taken, panels]))}
            nothing="nothing: one line of panels"
            onChoose={(column) => options && change(withPanelsDown(recipe, column, options))}
          >
            {panelsDown ? <Named columns={columns} name={panelsDown} /> : "nothing"}
          </ColumnPicker>{" "}
          down
        </>
      )}
    </>
  );
}
