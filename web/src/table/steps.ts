import type { ColumnSummary, KeyPair, StepState, TableLink } from "../api/generated";

/** A step of a preparation, as the recipe keeps it. */
export type StepRecord = StepState["step"];
export type StepName = StepRecord["step"];
export type Kind = ColumnSummary["kind"];

/** What a form has to choose from. */
export interface StepContext {
  columns: ColumnSummary[];
  tables: TableLink[];
}

interface Common {
  key: string;
  name: string;
  help?: string;
}

/** One thing to fill in. */
export type StepField = Common &
  (
    | { type: "column"; kinds?: Kind[]; none?: string }
    | { type: "columns"; kinds?: Kind[] }
    | { type: "text"; none?: boolean; wide?: boolean; mono?: boolean }
    | { type: "number" }
    | { type: "list" }
    | { type: "numbers" }
    | { type: "choice"; options: readonly string[]; none?: string }
    | { type: "yes" }
    | { type: "levels"; column: string }
    | { type: "order"; column: string }
    | { type: "map"; column: string; numbers?: boolean }
    | { type: "condition"; none?: string }
    | { type: "table" }
    | { type: "keys" }
    | { type: "left-out" }
  );

/** A kind of step: how it begins and what it asks. */
export interface StepForm {
  title: string;
  help: string;
  begin: (context: StepContext, column?: string) => StepRecord;
  fields: (step: StepRecord) => StepField[];
}

const ON = { on: true } as const;
const WORDS: Kind[] = ["category", "yes/no", "identifier"];
const MEASURE: Kind[] = ["measure"];
const KINDS: readonly Kind[] = ["measure", "category", "identifier", "date", "yes/no", "text"];

function first({ columns }: StepContext, kinds: Kind[] | null, wanted?: string): string {
  return wanted ?? (columns.find((c) => !kinds || kinds.includes(c.kind)) ?? columns[0])?.name ?? "";
}

function identifier({ columns }: StepContext): string {
  return (columns.find((c) => c.kind === "identifier") ?? columns[0])?.name ?? "";
}

const COLUMN: StepField = { key: "column", name: "Column", type: "column" };
const NUMBER_COLUMN: StepField = { key: "column", name: "Measure", type: "column", kinds: MEASURE };
const LEVEL_COLUMN: StepField = { key: "column", name: "Category", type: "column", kinds: WORDS };
const NEW_NAME: StepField = { key: "to", name: "New column", type: "text" };

/** Every kind of step, grouped as the menu shows them. */
export const STEP_GROUPS: Record<string, StepName[]> = {
  Rows: ["keep", "leave out", "combine"],
  Columns: ["rename", "kind", "unit", "missing"],
  Levels: ["order", "labels", "join levels"],
  Numbers: ["stand-in", "convert", "intervals", "relative"],
  "New columns": ["derive", "date part"],
  Tables: ["join", "append", "wide to long", "long to wide"],
};

export const STEP_FORMS: Record<StepName, StepForm> = {
  keep: {
    title: "Keep rows",
    help: "Only rows for which the conditions hold",
    begin: (context, column) => {
      const name = first(context, ["category", "yes/no"], column);
      const levels = context.columns.find((c) => c.name === name)?.levels ?? [];
      const where = levels.length
        ? { column: name, is: [levels[0]?.level ?? ""] }
        : { column: name, missing: false };
      return { step: "keep", ...ON, where };
    },
    fields: () => [{ key: "where", name: "Where", type: "condition" }],
  },
  "leave out": {
    title: "Leave out rows",
    help: "Single rows, each with a reason: click a row's number in the table",
    begin: () => ({ step: "leave out", ...ON, rows: [] }),
    fields: () => [{ key: "rows", name: "Rows", type: "left-out" }],
  },
  combine: {
    title: "Combine repeats",
    help: "One row for each subject, by mean, median, first value or count",
    begin: (context) => ({ step: "combine", ...ON, by: [identifier(context)], how: "mean" }),
    fields: () => [
      { key: "by", name: "One row per", type: "columns" },
      { key: "how", name: "Numbers by", type: "choice", options: ["mean", "median", "first", "count"] },
    ],
  },
  rename: {
    title: "Rename",
    help: "Another name for a column",
    begin: (context, column) => ({ step: "rename", ...ON, column: first(context, null, column), to: "" }),
    fields: () => [COLUMN, { key: "to", name: "New name", type: "text" }],
  },
  kind: {
    title: "Set the kind",
    help: "Measure, category, identifier, date, yes/no or text",
    begin: (context, column) => ({
      step: "kind",
      ...ON,
      column: first(context, null, column),
      kind: "category",
      decimal: null,
      dates: null,
    }),
    fields: (step) => [
      COLUMN,
      { key: "kind", name: "is", type: "choice", options: KINDS },
      ...("kind" in step && step.kind === "date"
        ? [
            {
              key: "dates",
              name: "Written",
              type: "choice",
              options: ["day first", "month first"],
              none: "as settled",
            } as const,
          ]
        : []),
    ],
  },
  unit: {
    title: "Set the unit",
    help: "The numbers stay as they are",
    begin: (context, column) => ({ step: "unit", ...ON, column: first(context, MEASURE, column), unit: null }),
    fields: () => [COLUMN, { key: "unit", name: "Unit", type: "text", none: true }],
  },
  missing: {
    title: "Treat as missing",
    help: "Cells written in these ways have no value; they stay counted by name",
    begin: (_, column) => ({ step: "missing", ...ON, column: column ?? null, marks: [] }),
    fields: () => [
      { key: "column", name: "In", type: "column", none: "every column" },
      { key: "marks", name: "Written as", type: "list", help: "Several with commas: 999, none" },
    ],
  },
  order: {
    title: "Order levels",
    help: "Drag the levels into their real order",
    begin: (context, column) => {
      const name = first(context, WORDS, column);
      const levels = context.columns.find((c) => c.name === name)?.levels ?? [];
      return { step: "order", ...ON, column: name, levels: levels.map((l) => l.level), ordered: true };
    },
    fields: (step) => [
      LEVEL_COLUMN,
      {
        key: "levels",
        name: "From first to last",
        type: "order",
        column: "column" in step ? (step.column ?? "") : "",
      },
      { key: "ordered", name: "Ordered", type: "yes" },
    ],
  },
  labels: {
    title: "Name levels",
    help: "Other words for levels, such as 1 is female",
    begin: (context, column) => ({ step: "labels", ...ON, column: first(context, WORDS, column), labels: {} }),
    fields: (step) => [
      LEVEL_COLUMN,
      { key: "labels", name: "Level is", type: "map", column: "column" in step ? (step.column ?? "") : "" },
    ],
  },
  "join levels": {
    title: "Join levels",
    help: "Several levels become one",
    begin: (context, column) => ({
      step: "join levels",
      ...ON,
      column: first(context, WORDS, column),
      levels: [],
      into: "",
    }),
    fields: (step) => [
      LEVEL_COLUMN,
      { key: "levels", name: "Levels", type: "levels", column: "column" in step ? (step.column ?? "") : "" },
      { key: "into", name: "become", type: "text" },
    ],
  },
  "stand-in": {
    title: "Stand-ins for limits",
    help: "A number for values such as <0.4, or leave them out",
    begin: (context, column) => ({
      step: "stand-in",
      ...ON,
      column: column ?? context.columns.find((c) => c.censored)?.name ?? first(context, MEASURE),
      below: "half",
      above: "as it is",
    }),
    fields: () => [
      NUMBER_COLUMN,
      {
        key: "below",
        name: "Below a limit",
        type: "choice",
        options: ["half", "limit", "limit/√2", "left out", "as it is"],
      },
      { key: "above", name: "Above a limit", type: "choice", options: ["as it is", "limit", "left out"] },
    ],
  },
  convert: {
    title: "Convert the unit",
    help: "Numbers times a factor, or a factor for each unit of a column",
    begin: (context, column) => ({
      step: "convert",
      ...ON,
      column: first(context, MEASURE, column),
      to: "",
      factor: 1,
      by: null,
      factors: {},
    }),
    fields: (step) => [
      NUMBER_COLUMN,
      { key: "to", name: "New unit", type: "text" },
      { key: "by", name: "Unit column", type: "column", kinds: WORDS, none: "one unit throughout" },
      "by" in step && typeof step.by === "string"
        ? { key: "factors", name: "Times", type: "map", column: step.by, numbers: true }
        : { key: "factor", name: "Times", type: "number" },
    ],
  },
  intervals: {
    title: "Cut into intervals",
    help: "A number becomes an ordered category of named intervals",
    begin: (context, column) => {
      const name = first(context, MEASURE, column);
      const of = context.columns.find((c) => c.name === name);
      const middle = of && of.min !== null && of.max !== null ? Number(((of.min + of.max) / 2).toPrecision(2)) : 0;
      return {
        step: "intervals",
        ...ON,
        column: name,
        to: `${name} class`,
        edges: [middle],
        names: [],
        closed: "left",
        open_low: true,
        open_high: true,
      };
    },
    fields: () => [
      NUMBER_COLUMN,
      NEW_NAME,
      { key: "edges", name: "Edges", type: "numbers", help: "Rising, with commas or spaces" },
      { key: "names", name: "Names", type: "list", help: "One an interval, with commas; empty writes the edges" },
      { key: "closed", name: "An edge belongs", type: "choice", options: ["left", "right"] },
      { key: "open_low", name: "Below the first", type: "yes" },
      { key: "open_high", name: "Above the last", type: "yes" },
    ],
  },
  relative: {
    title: "Relative to its group",
    help: "÷ mean or median of reference rows, change from them, or z-score",
    begin: (context, column) => {
      const name = first(context, MEASURE, column);
      return {
        step: "relative",
        ...ON,
        column: name,
        to: `${name} relative`,
        how: "ratio to mean",
        within: [],
        reference: null,
      };
    },
    fields: () => [
      NUMBER_COLUMN,
      {
        key: "how",
        name: "How",
        type: "choice",
        options: ["ratio to mean", "ratio to median", "change", "z-score"],
      },
      { key: "within", name: "Within", type: "columns", kinds: [...WORDS, "date"] },
      { key: "reference", name: "Reference rows", type: "condition", none: "all rows of the group" },
      NEW_NAME,
    ],
  },
  derive: {
    title: "Derive by a formula",
    help: "log10(cortisol), a − mean(a within plate), if dose > 5 then 'high' else 'low'",
    begin: (context) => ({
      step: "derive",
      ...ON,
      to: "",
      formula: `log10(${quoted(first(context, MEASURE))})`,
      unit: null,
    }),
    fields: () => [
      NEW_NAME,
      {
        key: "formula",
        name: "=",
        type: "text",
        wide: true,
        mono: true,
        help: "Names with spaces in \"double\", words in 'single' quotes",
      },
      { key: "unit", name: "Unit", type: "text", none: true },
    ],
  },
  "date part": {
    title: "Part of a date",
    help: "Year, month or weekday as an ordered category",
    begin: (context, column) => ({
      step: "date part",
      ...ON,
      column: first(context, ["date"], column),
      part: "month",
      to: "month",
    }),
    fields: () => [
      { key: "column", name: "Date", type: "column", kinds: ["date"] },
      { key: "part", name: "Part", type: "choice", options: ["year", "month", "weekday"] },
      NEW_NAME,
    ],
  },
  join: {
    title: "Join a table",
    help: "Its columns beside these, where keys agree",
    begin: (context) => {
      const shares = (link: TableLink) => context.columns.some((c) => link.columns.includes(c.name));
      const table = context.tables.find(shares) ?? context.tables[0];
      const keys = keysFor(context, table);
      return { step: "join", ...ON, table: table?.reference ?? NO_TABLE, keys, multiply: false };
    },
    fields: () => [
      { key: "table", name: "Table", type: "table" },
      { key: "keys", name: "Where", type: "keys" },
      { key: "multiply", name: "Rows may multiply", type: "yes" },
    ],
  },
  append: {
    title: "Append a table",
    help: "Its rows below these, with a column that says where each came from",
    begin: (context) => ({
      step: "append",
      ...ON,
      table: context.tables[0]?.reference ?? NO_TABLE,
      source: "source",
      here: "",
    }),
    fields: () => [
      { key: "table", name: "Table", type: "table" },
      { key: "source", name: "Source column", type: "text" },
      { key: "here", name: "These rows are", type: "text" },
    ],
  },
  "wide to long": {
    title: "Wide to long",
    help: "Several columns become one of names and one of values",
    begin: (context) => ({
      step: "wide to long",
      ...ON,
      columns: context.columns.filter((c) => c.kind === "measure").map((c) => c.name),
      names: "group",
      values: "value",
    }),
    fields: () => [
      { key: "columns", name: "Columns", type: "columns" },
      { key: "names", name: "Names to", type: "text" },
      { key: "values", name: "Values to", type: "text" },
    ],
  },
  "long to wide": {
    title: "Long to wide",
    help: "The levels of a category become columns",
    begin: (context) => ({
      step: "long to wide",
      ...ON,
      names: first(context, ["category"]),
      values: first(context, MEASURE),
      by: [identifier(context)],
    }),
    fields: () => [
      { key: "names", name: "A column per", type: "column", kinds: WORDS },
      { key: "values", name: "holds", type: "column" },
      { key: "by", name: "One row per", type: "columns" },
    ],
  },
};

const NO_TABLE = { name: "", sha256: "", options: NO_OPTIONS(), prepare: [] };

function NO_OPTIONS() {
  return { delimiter: null, decimal: null, header_row: null, sheet: null, encoding: null, tail: null };
}

/** The keys to begin a join with: a column that both tables have. */
export function keysFor(context: StepContext, table: TableLink | undefined): KeyPair[] {
  const common = context.columns.find((c) => table?.columns.includes(c.name))?.name;
  return [{ here: common ?? first(context, null), there: common ?? table?.columns[0] ?? "" }];
}

/** A column's name as formulas write it. */
export function quoted(name: string): string {
  return /^[\p{L}_][\p{L}\p{N}_]*$/u.test(name) ? name : `"${name.replaceAll('"', '""')}"`;
}

const OPTIONAL = new Set(["within", "names", "here"]);

/** The name of the first thing that a step still needs, null where it has all. */
export function lacking(step: StepRecord): string | null {
  const record = step as Record<string, unknown>;
  const empty = (value: unknown) =>
    value === "" || (typeof value === "object" && value !== null && Object.keys(value).length === 0);
  const field = STEP_FORMS[step.step].fields(step).find(({ key, type }) => {
    return !OPTIONAL.has(key) && !(type === "text" && key === "unit") && empty(record[key]);
  });
  return field?.name ?? null;
}

/** Whether two steps say the same. */
export function same(one: unknown, two: unknown): boolean {
  return JSON.stringify(one) === JSON.stringify(two);
}
