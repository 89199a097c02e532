import type { ColumnSummary } from "../../api/generated";
import { useFar } from "../store/BenchContext";
import type { Offer } from "./ColumnPicker";

const MOST_LANES = 1_000;
const MOST_PARTS = 40;

/** A column's name in the sentence, with its unit or its number of levels. */
export function Named({ columns, name }: { columns: ColumnSummary[]; name: string }) {
  const column = columns.find((c) => c.name === name);
  const about = useFar() ? "≈" : "";
  const more = column?.kind === "measure" ? column.unit : column?.distinct && `${about}${column.distinct}`;
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

/** The column that a recipe spells with or without its unit. */
export function nameOf(columns: ColumnSummary[], spelling: string): string {
  return columns.find((c) => `${c.name} (${c.unit})` === spelling)?.name ?? spelling;
}

/** A column as the measure: only numbers can be compared, any column's rows be counted. */
export function asMeasure(column: ColumnSummary, counting: boolean): Offer {
  const fits = column.kind === "measure" || counting;
  const unfit = fits ? null : `${column.kind}: holds no numbers to compare; the form counts counts its rows`;
  // A number with few values is more likely a code.
  return { column, unfit, fits: column.distinct > 10 ? 1 : 0 };
}

/** How well a column divides rows: a few levels best, many levels of anything last. */
function divides(column: ColumnSummary): number {
  const named = column.kind === "category" || column.kind === "yes/no" ? 2 : 0;
  return named + (column.distinct >= 2 && column.distinct <= 12 ? 1 : 0);
}

/** A column as groups: as many levels as lanes can show; dates are shown by a part of them. */
export function asGroups(column: ColumnSummary, measure: string): Offer {
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
export function asSplit(column: ColumnSummary, taken: (string | null)[]): Offer {
  const reasons: [boolean, string][] = [
    [taken.includes(column.name), "is used already"],
    [column.distinct < 1, "has no values"],
    [column.kind !== "date" && column.distinct > MOST_PARTS, `${column.distinct} levels, more than ${MOST_PARTS}`],
  ];
  return { column, unfit: reasons.find(([applies]) => applies)?.[1] ?? null, fits: divides(column) };
}
