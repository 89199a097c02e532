import type { ColumnSummary, Recipe } from "../../api/generated";
import { PickList } from "../../ui/PickList";
import { PartSettings } from "../panels/PartSettings";
import { useRights, useShown } from "../store/BenchContext";

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
      <LevelsShown column={column} role={role} onSettle={settle} />
      <PartSettings part={part} />
    </div>
  );
}

/** The levels of a role's column, ticked where they are shown; the others can be joined as one. */
export function LevelsShown({
  column,
  role,
  onSettle,
}: {
  column: ColumnSummary;
  role: Role;
  onSettle: (next: Partial<Role>) => void;
}) {
  if (!column.levels.length || role.cut || role.dates) return null;
  const joined = role.joined.flatMap(({ levels }) => levels);
  const offered = [
    ...column.levels
      .filter(({ level }) => !joined.includes(level))
      .map(({ level, count }) => ({ name: level, count })),
    ...role.joined.map(({ name, levels }) => ({ name, word: `${levels.length} levels` })),
  ];
  const shown = offered.map(({ name }) => name).filter((name) => !role.dropped.includes(name));
  const other = role.joined.some(({ name }) => name === OTHER) ? `${OTHER} levels` : OTHER;
  return (
    <PickList
      label="Levels shown"
      offered={offered}
      chosen={shown}
      all={column.distinct - joined.length + role.joined.length}
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
