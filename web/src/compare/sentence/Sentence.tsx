import type { AskRows, Counts } from "../../api/generated";
import { spaced } from "../../words";
import { measuresApart, panelColumn, showsOnly, withGroups, withMeasures, withSubgroups } from "../recipe";
import type { Looked } from "../rows/useRows";
import { useBenchActions, useBenchState, useFar, useRights, useShown } from "../store/BenchContext";
import { useFigureOptions } from "../useFigureOptions";
import { ColumnPicker } from "./ColumnPicker";
import { KeepPicker } from "./KeepPicker";
import { MeasurePane } from "./MeasurePane";
import { asGroups, asMeasure, asSplit, Named, nameOf } from "./offers";
import { PanelWords } from "./PanelWords";
import { Placement } from "./Placement";
import { RolePane } from "./RolePane";

type Aside = NonNullable<AskRows["aside"]>;

/** "Compare cortisol across shift pattern, keeping …": the underlined words are the controls. */
export function Sentence() {
  const { comparison, recipe } = useShown();
  const { rows, change: onChange } = useRights();
  const { look } = useBenchActions();
  const counts = useBenchState((state) => state.scene?.counts);
  const form = useBenchState((state) => state.scene?.form ?? null);
  // A far table knows how many rows these are, and not which.
  const far = useFar();
  const options = useFigureOptions();
  const onRows = !rows || far ? null : (looked: Looked) => look({ looked });
  const { columns } = comparison;
  const known = (name: string | null) => columns.find((column) => column.name === name);
  const measure = recipe.measure.columns[0] ?? "";
  const several = recipe.measure.columns.length > 1;
  const counting = showsOnly(recipe, "counts");
  const groups = recipe.groups?.column ?? null;
  const subgroups = recipe.subgroups?.column ?? null;
  const panels = panelColumn(recipe);
  return (
    <div className="flex shrink-0 flex-wrap items-baseline gap-x-6 gap-y-1 border-b border-hairline bg-sheet px-5 py-3.5">
      <p className="text-[17px] leading-8 text-muted">
        {columns.find((column) => column.name === measure)?.kind === "measure" ? "Compare" : "Count rows with"}{" "}
        <ColumnPicker
          name="Measure"
          path="measure.columns"
          pane={<MeasurePane />}
          value={several ? null : nameOf(columns, measure)}
          offers={columns.map((column) => asMeasure(column, counting))}
          onChoose={(column) =>
            column && (several || column !== measure) && onChange(withMeasures(recipe, [column]))
          }
        >
          {several ? `${recipe.measure.columns.length} columns` : <Named columns={columns} name={measure} />}
        </ColumnPicker>{" "}
        across{" "}
        <ColumnPicker
          name="Groups"
          path="groups.column"
          pane={groups && <RolePane part="groups" />}
          value={groups && nameOf(columns, groups)}
          offers={columns.map((column) => asGroups(column, measure))}
          nothing="nothing: one lane for all rows"
          onChoose={(column) =>
            options && column !== groups && onChange(withGroups(recipe, column, options, form, known(column)))
          }
        >
          {groups ? <Named columns={columns} name={groups} /> : "nothing"}
        </ColumnPicker>
        {recipe.groups && (
          <>
            , <Placement part="groups" keys={recipe.subgroups ? null : "P"} />,
          </>
        )}{" "}
        {groups && !(several && recipe.measure.placed === "within groups") && (
          <>
            split by{" "}
            <ColumnPicker
              name="Subgroups"
              path="subgroups.column"
              pane={subgroups && <RolePane part="subgroups" />}
              value={subgroups && nameOf(columns, subgroups)}
              offers={columns.map((column) => asSplit(column, [measure, groups, panels]))}
              nothing="nothing: one lane a group"
              onChoose={(column) =>
                options &&
                column !== subgroups &&
                onChange(withSubgroups(recipe, column, options, form, known(column)))
              }
            >
              {subgroups ? <Named columns={columns} name={subgroups} /> : "nothing"}
            </ColumnPicker>
            {recipe.subgroups && (
              <>
                , placed <Placement part="subgroups" keys="P" />,
              </>
            )}{" "}
          </>
        )}
        {measuresApart(recipe) ? "with a panel per measure" : <PanelWords />}, keeping{" "}
        <KeepPicker recipe={recipe} columns={columns} onChange={onChange} />
      </p>
      {counts && (
        <Account
          counts={counts}
          of={recipe.differences?.drawn ? "differences" : several ? "values" : "rows"}
          onRows={onRows}
        />
      )}
    </div>
  );
}

/** What became of the table's rows. */
function Account(props: {
  counts: Counts;
  of: "rows" | "values" | "differences";
  onRows: ((looked: Looked) => void) | null;
}) {
  const { counts, of, onRows } = props;
  const missing = Object.entries(counts.missing_by).map(([how, count]) => `${count} ${how}`);
  const steps = counts.prepared.map((step) => `${step.step}: ${spaced(step.before)} to ${spaced(step.after)}`);
  const aside: [number, string, Aside | null, string][] = [
    [counts.rows - counts.kept, "not kept", null, "By the conditions of this comparison"],
    [counts.missing, of === "differences" ? "in one lane only" : "without a value", "missing", missing.join(", ")],
    [counts.censored, "beyond a limit", "beyond a limit", "Values such as <0.4: counted, not in n"],
    [counts.left_out, "left out", "left out", ""],
    [counts.ungrouped, "without a group", "ungrouped", ""],
    [counts.dropped, "not shown", "not shown", "Of levels that the figure does not show"],
  ];
  return (
    <p className="ml-auto text-[13px] text-muted" data-testid="account">
      <strong className="text-ink">{spaced(counts.used)}</strong> of {spaced(counts.rows)} {of}
      {steps.length > 0 && (
        <span title={steps.join("; ")}>
          {" · "}
          {spaced(counts.read)} read
        </span>
      )}
      {counts.people !== null && ` · ${spaced(counts.people)} ${counts.called}`}
      {aside.map(
        ([count, words, why, how]) =>
          count > 0 && (
            <span key={words} title={how}>
              {" · "}
              <button
                type="button"
                disabled={!onRows || why === null}
                className="font-bold text-warn enabled:underline enabled:decoration-accent enabled:underline-offset-4"
                onClick={() => why !== null && onRows?.({ aside: why, words })}
              >
                {spaced(count)} {words}
              </button>
            </span>
          ),
      )}
    </p>
  );
}
