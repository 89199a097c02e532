import { PartSettings } from "../panels/PartSettings";
import { panelWay } from "../recipe";
import { useRights, useShown } from "../store/BenchContext";
import { LevelsShown } from "./RolePane";

/** Beside the columns on offer: which levels have a panel, how many stand in a line, and which scales they share. */
export function PanelPane() {
  const { comparison, recipe } = useShown();
  const { change } = useRights();
  const way = panelWay(recipe);
  const levels = recipe.panels[way];
  const column = comparison.columns.find(({ name }) => name === levels?.column);
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] content-start gap-3">
      {levels && column && (
        <LevelsShown
          column={column}
          role={levels}
          onSettle={(next) => change({ ...recipe, panels: { ...recipe.panels, [way]: { ...levels, ...next } } })}
        />
      )}
      <PartSettings part="panels" />
    </div>
  );
}
