import type { AskRows, ColumnSummary, Counts } from "../../api/generated";
import { spaced } from "../../words";
import {
  type PanelWay,
  panelColumn,
  panelWay,
  withGroups,
  withMeasures,
  withPanels,
  withPanelsDown,
  withPanelWay,
  withSubgroups,
} from "../recipe";
import type { Looked } from "../rows/useRows";
import { useBenchActions, useBenchState, useRights, useShown } from "../store/BenchContext";
import { useFigureOptions } from "../useFigureOptions";
import { ColumnPicker, type Offer, type Together } from "./ColumnPicker";
import { KeepPicker } from "./KeepPicker";
import { MeasurePane } from "./MeasurePane";
import { OptionWord } from "./OptionWord";
import { PanelPane } from "./PanelPane";
import { Placement } from "./Placement";
import { RolePane } from "./RolePane";

type Aside = NonNullable<AskRows["aside"]>;

const MOST_LANES = 400;
const MOST_PARTS = 40;
const WAYS: PanelWay[] = ["wrapped", "across", "down"];

/** "Compare cortisol across shift pattern, keeping …": the underlined words are the controls. */
export function Sentence() {
  const { comparison, recipe } = useShown();
  const { viewer, change: onChange } = useRights();
  const { look } = useBenchActions();
  const counts = useBenchState((state) => state.scene?.counts);
  const form = useBenchState((state) => state.scene?.form ?? null);
  const options = useFigureOptions();
  const onRows = viewer ? null : (looked: Looked) => look({ looked });
  const { columns } = comparison;
  const known = (name: string | null) => columns.find((column) => column.name === name);
  const measure = recipe.measure.columns[0] ?? "";
  const several = recipe.measure.columns.length > 1;
  const groups = recipe.groups?.column ?? null;
  const subgroups = recipe.subgroups?.column ?? null;
  const panels = panelColumn(recipe);
  const panelsDown = recipe.panels.across ? (recipe.panels.down?.column ?? null) : null;
  return (
    <div className="flex shrink-0 flex-wrap items-baseline gap-x-6 gap-y-1 border-b border-hairline bg-sheet px-5 py-3.5">
      <p className="text-[17px] leading-8 text-muted">
        {columns.find((column) => column.name === measure)?.kind === "measure" ? "Compare" : "Count rows with"}{" "}
        <ColumnPicker
          name="Measure"
          path="measure.columns"
          pane={<MeasurePane />}
          value={several ? null : nameOf(columns, measure)}
          together={several ? [] : togetherOf(columns)}
          onTogether={(names) => onChange(withMeasures(recipe, names))}
          offers={columns.map(asMeasure)}
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
        with a panel per{" "}
        <ColumnPicker
          name="Panels"
          path={`panels.${panelWay(recipe)}.column`}
          pane={panels && <PanelPane />}
          value={panels && nameOf(columns, panels)}
          offers={columns.map((column) => asSplit(column, [measure, groups, subgroups]))}
          nothing="nothing: one panel"
          onChoose={(column) =>
            options && column !== panels && onChange(withPanels(recipe, column, options, known(column)))
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
              onChoose={(way) => onChange(withPanelWay(recipe, way))}
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
              offers={columns.map((column) => asSplit(column, [measure, groups, subgroups, panels]))}
              nothing="nothing: one line of panels"
              onChoose={(column) => options && onChange(withPanelsDown(recipe, column, options))}
            >
              {panelsDown ? <Named columns={columns} name={panelsDown} /> : "nothing"}
            </ColumnPicker>{" "}
            down
          </>
        )}
        , keeping <KeepPicker recipe={recipe} columns={columns} onChange={onChange} />
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

function Named({ columns, name }: { columns: ColumnSummary[]; name: string }) {
  const column = columns.find((c) => c.name === name);
  const more = column?.kind === "measure" ? column.unit : column?.distinct;
  return (
    <span className="text-ink">
      {name}{" "}
      {more && (
        <span aria-hidden="true" className="text-sm font-normal text-muted">
          {more}
        </span>
      )}
    </span>
  );
}

/** Measures in one unit that could stand side by side, one lane each. */
function togetherOf(columns: ColumnSummary[]): Together[] {
  const byUnit = new Map<string, string[]>();
  for (const column of columns) {
    if (column.kind !== "measure") continue;
    const unit = column.unit ?? "";
    byUnit.set(unit, [...(byUnit.get(unit) ?? []), column.name]);
  }
  return [...byUnit]
    .filter(([, names]) => names.length > 1)
    .map(([unit, names]) => ({
      name: `all ${names.length} columns ${unit ? `in ${unit}` : "without a unit"}`,
      columns: names,
    }));
}

function nameOf(columns: ColumnSummary[], spelling: string): string {
  return columns.find((c) => `${c.name} (${c.unit})` === spelling)?.name ?? spelling;
}

function asMeasure(column: ColumnSummary): Offer {
  const unfit = column.kind === "measure" ? null : `${column.kind}: holds no numbers to compare`;
  // A number with few values is more likely a code.
  return { column, unfit, fits: column.distinct > 10 ? 1 : 0 };
}

/** How well a column divides rows: a few levels best, many levels of anything last. */
function divides(column: ColumnSummary): number {
  const named = column.kind === "category" || column.kind === "yes/no" ? 2 : 0;
  return named + (column.distinct >= 2 && column.distinct <= 12 ? 1 : 0);
}

function asGroups(column: ColumnSummary, measure: string): Offer {
  const reasons: [boolean, string][] = [
    [column.name === measure, "is the measure"],
    [column.distinct < 1, "has no values"],
    [
      column.kind !== "date" && column.distinct > MOST_LANES,
      `${column.distinct} levels, more than ${MOST_LANES} lanes can show`,
    ],
  ];
  return { column, unfit: reasons.find(([applies]) => applies)?.[1] ?? null, fits: divides(column) };
}

/** A column that splits lanes or makes panels: few levels, and not in another role already. */
function asSplit(column: ColumnSummary, taken: (string | null)[]): Offer {
  const reasons: [boolean, string][] = [
    [taken.includes(column.name), "is used already"],
    [column.distinct < 1, "has no values"],
    [column.kind !== "date" && column.distinct > MOST_PARTS, `${column.distinct} levels, more than ${MOST_PARTS}`],
  ];
  return { column, unfit: reasons.find(([applies]) => applies)?.[1] ?? null, fits: divides(column) };
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
