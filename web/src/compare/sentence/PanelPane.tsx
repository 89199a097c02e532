import type { Recipe } from "../../api/generated";
import { LevelSettings, PartSettings } from "../panels/PartSettings";
import { panelWay } from "../recipe";
import { useRights, useShown } from "../store/BenchContext";
import { CutFields } from "./CutFields";
import { LevelsShown } from "./RolePane";

/** Beside the columns on offer: which levels have a panel, how many stand in a line, and which scales they share. */
export function PanelPane() {
  const { comparison, recipe } = useShown();
  const { change } = useRights();
  const way = panelWay(recipe);
  const levels = recipe.panels[way];
  const column = comparison.columns.find(({ name }) => name === levels?.column);
  const settle = (next: Partial<NonNullable<typeof levels>>) =>
    change({ ...recipe, panels: { ...recipe.panels, [way]: { ...levels, ...next } } as Recipe["panels"] });
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] content-start gap-3">
      {levels && column && (
        <>
          <LevelsShown part={`panels.${way}`} column={column} role={levels} onSettle={settle} />
          <CutFields column={column} role={levels} part={`panels.${way}`} onSettle={settle} />
          <LevelSettings at={["panels", way]} dates={column.kind === "date"} />
        </>
      )}
      <PartSettings part="panels" />
    </div>
  );
}
