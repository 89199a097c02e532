import type { ColumnSummary } from "../api/generated";
import { ColumnSelect } from "./ColumnSelect";
import { ListField } from "./ListField";
import { Ticks } from "./Ticks";

type Plain = { column: string } & Record<string, unknown>;
type Shown = { every: boolean; parts: Plain[] };

interface Props {
  value: unknown;
  columns: ColumnSummary[];
  none?: string | undefined;
  onChange: (value: unknown) => void;
}

/** Conditions on any columns, all or any of which must hold. */
export function ConditionField({ value, columns, none, onChange }: Props) {
  const shown = split(value);
  const put = ({ every, parts }: Shown) => {
    if (parts.length === 0) onChange(none === undefined ? value : null);
    else onChange(parts.length === 1 ? parts[0] : every ? { all: parts } : { any: parts });
  };
  const add = () => {
    const column = columns.find((c) => c.levels.length > 0) ?? columns[0];
    if (column) put({ ...shown, parts: [...shown.parts, begin(column)] });
  };
  if (nested(value)) {
    return <p className="text-muted">Conditions within conditions: edit them in the steps file.</p>;
  }
  return (
    <div className="flex max-h-32 flex-col gap-1.5 overflow-y-auto">
      {shown.parts.length === 0 && none !== undefined && <span className="text-muted">{none}</span>}
      {shown.parts.map((part, place) => (
        <div key={place} className="flex items-start gap-2">
          {place > 0 && (
            <button
              type="button"
              className="word w-9 text-[13px]"
              onClick={() => put({ ...shown, every: !shown.every })}
              title="and: all must hold; or: one of them"
            >
              {shown.every ? "and" : "or"}
            </button>
          )}
          <Part
            part={part}
            columns={columns}
            onChange={(next) => put({ ...shown, parts: shown.parts.map((p, i) => (i === place ? next : p)) })}
          />
          {(shown.parts.length > 1 || none !== undefined) && (
            <button
              type="button"
              aria-label={`Remove the condition on ${part.column}`}
              className="px-1 text-muted"
              onClick={() => put({ ...shown, parts: shown.parts.filter((_, i) => i !== place) })}
            >
              ✕
            </button>
          )}
        </div>
      ))}
      <button type="button" className="self-start text-[13px] font-bold text-petrol" onClick={add}>
        + condition
      </button>
    </div>
  );
}

function nested(value: unknown): boolean {
  return split(value).parts.some((part) => "all" in part || "any" in part);
}

function split(value: unknown): Shown {
  const condition = value as Record<string, unknown> | null;
  if (!condition) return { every: true, parts: [] };
  if ("all" in condition) return { every: true, parts: condition.all as Plain[] };
  if ("any" in condition) return { every: false, parts: condition.any as Plain[] };
  return { every: true, parts: [condition as Plain] };
}

function begin(column: ColumnSummary): Plain {
  if (column.levels.length) return { column: column.name, is: [column.levels[0]?.level ?? ""] };
  if (column.kind === "measure" && column.min !== null) return { column: column.name, from: column.min };
  return { column: column.name, missing: false };
}

const HOW = [
  { name: "is", key: "is" },
  { name: "is not", key: "is_not" },
  { name: "from", key: "from" },
  { name: "to", key: "to" },
  { name: "above", key: "above" },
  { name: "below", key: "below" },
  { name: "is missing", key: "missing" },
  { name: "is there", key: "there" },
] as const;
type How = (typeof HOW)[number]["key"];

function howOf(part: Plain): How {
  if ("missing" in part) return part.missing ? "missing" : "there";
  return HOW.find(({ key }) => key in part && part[key] !== null)?.key ?? "is";
}

function Part({
  part,
  columns,
  onChange,
}: {
  part: Plain;
  columns: ColumnSummary[];
  onChange: (part: Plain) => void;
}) {
  const column = columns.find((c) => c.name === part.column);
  const ranged = column?.kind === "measure" || column?.kind === "date";
  const how = howOf(part);
  const options = HOW.filter(({ key }) => ranged || !["from", "to", "above", "below"].includes(key));
  const start = (key: How): Plain => {
    const name = part.column;
    if (key === "missing" || key === "there") return { column: name, missing: key === "missing" };
    if (key === "is" || key === "is_not") {
      const held = (part.is ?? part.is_not) as string[] | undefined;
      return { column: name, [key]: held ?? [column?.levels[0]?.level ?? String(column?.min ?? "")] };
    }
    return { column: name, [key]: column?.kind === "date" ? "2026-01-01" : (column?.min ?? 0) };
  };
  return (
    <>
      <ColumnSelect
        label="Column of the condition"
        value={part.column}
        columns={columns}
        onChange={(name) => {
          const next = columns.find((c) => c.name === name);
          if (next) onChange(begin(next));
        }}
      />
      <select
        aria-label={`How ${part.column} must be`}
        className="input"
        value={how}
        onChange={(event) => onChange(start(event.target.value as How))}
      >
        {options.map(({ name, key }) => (
          <option key={key} value={key}>
            {name}
          </option>
        ))}
      </select>
      {(how === "is" || how === "is_not") &&
        (column?.levels.length ? (
          <Ticks
            all={column.levels.slice(0, 60).map((l) => l.level)}
            on={part[how] as string[]}
            onChange={(on) => on.length && onChange({ column: part.column, [how]: on })}
          />
        ) : (
          <ListField
            label={`Values of ${part.column}`}
            text={(part[how] as string[]).join(", ")}
            onText={(text) => {
              const typed = text
                .split(",")
                .map((word) => word.trim())
                .filter(Boolean);
              if (typed.length) onChange({ column: part.column, [how]: typed });
            }}
          />
        ))}
      {["from", "to", "above", "below"].includes(how) && (
        <ListField
          label={`Bound of ${part.column}`}
          narrow
          text={String(part[how] ?? "")}
          onText={(text) => {
            const bound = column?.kind === "date" ? text : Number(text.replace(",", "."));
            if (text && (typeof bound === "string" || Number.isFinite(bound)))
              onChange({ column: part.column, [how]: bound });
          }}
        />
      )}
    </>
  );
}
