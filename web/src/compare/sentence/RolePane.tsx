import type { ColumnSummary, Recipe, Scene } from "../../api/generated";
import { type Offered, PickList } from "../../ui/PickList";
import { PartSettings } from "../panels/PartSettings";
import { levelsShown } from "../sheet/lanes";
import { useBenchState, useRights, useShown } from "../store/BenchContext";
import { CutFields } from "./CutFields";

type Role = NonNullable<Recipe["panels"]["wrapped"]>;

const OTHER = "other";

/** Beside the columns on offer: which levels of the chosen one are shown, in which order, and how they are placed. */
export function RolePane({ part }: { part: "groups" | "subgroups" }) {
  const { comparison, recipe } = useShown();
  const { change } = useRights();
  const role = recipe[part];
  const column = role && comparison.columns.find((column) => column.name === role.column);
  if (!role || !column) return null;
  const settle = (next: Partial<Role>) => change({ ...recipe, [part]: { ...role, ...next } });
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] content-start gap-3">
      <LevelsShown part={part} column={column} role={role} onSettle={settle} />
      <CutFields column={column} role={role} part={part} onSettle={settle} />
      <PartSettings part={part} but={column.kind === "date" ? [] : ["dates"]} />
    </div>
  );
}

/** The levels of a role's column, ticked where they are shown; the others can be joined as one. */
export function LevelsShown({
  part,
  column,
  role,
  onSettle,
}: {
  part: string;
  column: ColumnSummary;
  role: Role;
  onSettle: (next: Partial<Role>) => void;
}) {
  const scene = useBenchState((state) => state.scene);
  // Classes and parts of dates are known once they are drawn.
  const derived = role.cut || role.dates || !column.levels.length;
  const levels: Offered[] = derived
    ? [...drawnLevels(scene, part), ...role.dropped].map((name) => ({ name }))
    : column.levels.map(({ level, count }) => ({ name: level, count }));
  if (!levels.length) return null;
  const joined = role.joined.flatMap(({ levels }) => levels);
  const offered: Offered[] = [
    ...levels.filter(({ name }) => !joined.includes(name)),
    ...role.joined.map(({ name, levels }) => ({ name, word: `${levels.length} levels` })),
  ];
  const shown = offered.map(({ name }) => name).filter((name) => !role.dropped.includes(name));
  const other = levels.some(({ name }) => name === OTHER) ? `${OTHER} levels` : OTHER;
  return (
    <PickList
      label="Levels shown"
      path={`${part}.dropped`}
      offered={offered}
      chosen={shown}
      {...(derived ? {} : { all: column.distinct - joined.length + role.joined.length })}
      onChange={(now) =>
        onSettle({ dropped: offered.map(({ name }) => name).filter((name) => !now.includes(name)) })
      }
      onRest={
        role.joined.length
          ? { name: "Apart again", run: () => onSettle({ joined: [], dropped: [] }) }
          : {
              name: "The rest as other",
              run: (rest) => onSettle({ dropped: [], joined: [{ name: other, levels: rest }] }),
            }
      }
    />
  );
}

/** The levels of a role that the figure shows. */
function drawnLevels(scene: Scene | null, part: string): string[] {
  if (!scene) return [];
  if (part === "groups") return levelsShown(scene);
  const levels =
    part === "subgroups" ? scene.lanes.map(({ subgroup }) => subgroup) : scene.panels.map(({ level }) => level);
  return [...new Set(levels.filter((level) => level !== null && level !== undefined))];
}
