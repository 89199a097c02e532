import type { ColumnSummary, KeyPair, StepState, TableLink } from "../api/generated";
import forms from "../api/stepForms.json";

/** A step of a preparation, as the recipe keeps it. */
export type StepRecord = StepState["step"];
export type StepName = StepRecord["step"];
export type Kind = ColumnSummary["kind"];

/** What a form has to choose from. */
export interface StepContext {
  columns: ColumnSummary[];
  tables: TableLink[];
}

/** What a step is called on the page and what it asks, as its model says. */
type StepForm = (typeof forms)[number] & { step: StepName };
export type StepField = StepForm["fields"][number] & { kinds: Kind[] };

const FORMS = new Map((forms as StepForm[]).map((form) => [form.step, form]));
export const STEP_NAMES = [...FORMS.keys()];

export function formOf(name: StepName): StepForm {
  const form = FORMS.get(name);
  if (!form) throw new Error(`no form of step ${name}`);
  return form;
}

/** Every kind of step that can be begun, grouped as the menu shows them. */
export function menuOf({ tables }: StepContext): [string, StepForm[]][] {
  const offered = [...FORMS.values()].filter(({ fields }) =>
    fields.every(({ asks }) => asks !== "left out" && (asks !== "table" || tables.length > 0)),
  );
  return [...new Set(offered.map(({ group }) => group))].map((group) => [
    group,
    offered.filter((form) => form.group === group),
  ]);
}

/** The steps that can be begun about a column. Its kind is set where it is shown. */
export function stepsFor(column: ColumnSummary): StepForm[] {
  const about = ({ key, asks, kinds, start, none }: StepField) => {
    if (asks === "condition") return none === "";
    if (key !== "column" || (kinds.length > 0 && !kinds.includes(column.kind))) return false;
    return start === "limits" ? column.censored > 0 : start === "" || start === column.kind;
  };
  return [...FORMS.values()].filter(({ step, fields }) => step !== "kind" && (fields as StepField[]).some(about));
}

/** A field of a step, where it is a text. */
export function textOf(step: StepRecord, key: string): string {
  const value = (step as Record<string, unknown>)[key];
  return typeof value === "string" ? value : "";
}

/** The fields that a step asks for as it stands. */
export function fieldsOf(step: StepRecord): StepField[] {
  return (formOf(step.step).fields as StepField[]).filter(({ when, asks, of }) => {
    if (asks.startsWith("map")) return textOf(step, of) !== "";
    return when === null || textOf(step, when[0] ?? "") === (when[1] ?? "");
  });
}

/** A new step, about a column where one was chosen. */
export function beginStep(name: StepName, context: StepContext, column?: string): StepRecord {
  const { usual, fields } = formOf(name);
  const record: Record<string, unknown> = { ...usual };
  for (const field of fields as StepField[]) record[field.key] = begin(field, record, context, column);
  return record as unknown as StepRecord;
}

function begin(
  field: StepField,
  record: Record<string, unknown>,
  context: StepContext,
  column: string | undefined,
): unknown {
  const usual = record[field.key];
  const { columns } = context;
  const about = columns.find(({ name }) => name === record.column);
  switch (field.asks) {
    case "column":
      if (field.key === "column" && column !== undefined) return column;
      return field.none ? null : firstColumn(field, context);
    case "columns":
      if (field.start === "identifier") return [identifier(context)];
      return field.start === "measures"
        ? columns.filter(({ kind }) => kind === "measure").map(({ name }) => name)
        : [];
    case "choice":
      return field.start || (usual ?? (field.none ? null : field.options[0]));
    case "condition":
      return field.none ? null : beginCondition(context, column);
    case "number":
      return usual ?? 1;
    case "numbers":
      return [about && about.min !== null && about.max !== null ? middle(about.min, about.max) : 0];
    case "order":
      return about?.levels.map(({ level }) => level) ?? [];
    case "map":
    case "map of numbers":
      return {};
    case "list":
    case "levels":
    case "left out":
      return [];
    case "table":
      return (sharing(context) ?? context.tables[0])?.reference ?? NO_TABLE;
    case "keys":
      return keysFor(context, sharing(context) ?? context.tables[0]);
    case "yes-no":
      return usual;
    default:
      if (field.none) return null;
      return (
        field.start
          .replace("{column}", about?.name ?? "")
          .replace("{measure}", quoted(first(context, ["measure"]))) ||
        (usual ?? "")
      );
  }
}

function firstColumn({ kinds, start }: StepField, context: StepContext): string {
  const limited = start === "limits" ? context.columns.find(({ censored }) => censored) : undefined;
  return limited?.name ?? first(context, start === "measure" ? ["measure"] : kinds.length ? kinds : null);
}

function beginCondition(context: StepContext, column: string | undefined) {
  const name = column ?? first(context, ["category", "yes/no"]);
  const level = context.columns.find((c) => c.name === name)?.levels[0]?.level;
  return level === undefined ? { column: name, missing: false } : { column: name, is: [level] };
}

function first({ columns }: StepContext, kinds: Kind[] | null): string {
  return (columns.find(({ kind }) => !kinds || kinds.includes(kind)) ?? columns[0])?.name ?? "";
}

function identifier({ columns }: StepContext): string {
  return (columns.find(({ kind }) => kind === "identifier") ?? columns[0])?.name ?? "";
}

function middle(low: number, high: number): number {
  return Number(((low + high) / 2).toPrecision(2));
}

const NO_TABLE = { name: "", sha256: "", options: {}, prepare: [] };

/** A table that has a column of this one's. */
function sharing({ columns, tables }: StepContext): TableLink | undefined {
  return tables.find((link) => columns.some(({ name }) => link.columns.includes(name)));
}

/** The keys to begin a join with: a column that both tables have. */
export function keysFor(context: StepContext, table: TableLink | undefined): KeyPair[] {
  const common = context.columns.find(({ name }) => table?.columns.includes(name))?.name;
  return [{ here: common ?? first(context, null), there: common ?? table?.columns[0] ?? "" }];
}

/** A column's name as formulas write it. */
export function quoted(name: string): string {
  return /^[\p{L}_][\p{L}\p{N}_]*$/u.test(name) ? name : `"${name.replaceAll('"', '""')}"`;
}

/** A step with another value; keys follow the table they are of. */
export function withValue(step: StepRecord, key: string, value: unknown, context: StepContext): StepRecord {
  const next: Record<string, unknown> = { ...step, [key]: value };
  const asks = new Map(formOf(step.step).fields.map((field) => [field.asks, field.key]));
  const keys = asks.get("keys");
  if (keys && asks.get("table") === key) {
    const { sha256 } = value as { sha256: string };
    next[keys] = keysFor(
      context,
      context.tables.find(({ reference }) => reference.sha256 === sha256),
    );
  }
  return next as unknown as StepRecord;
}

/** The name of the first thing that a step still needs, null where it has all. */
export function lacking(step: StepRecord): string | null {
  const record = step as Record<string, unknown>;
  const empty = (value: unknown) =>
    value === "" || (typeof value === "object" && value !== null && Object.keys(value).length === 0);
  return fieldsOf(step).find((field) => !field.optional && !field.none && empty(record[field.key]))?.name ?? null;
}

/** Whether two steps say the same. */
export function same(step: unknown, other: unknown): boolean {
  return JSON.stringify(step) === JSON.stringify(other);
}
