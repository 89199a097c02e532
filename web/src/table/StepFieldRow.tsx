import { type ReactNode, useId } from "react";
import type { TableLink } from "../api/generated";
import { Choice } from "../ui/Choice";
import { typedNumber } from "../ui/numbers";
import { ColumnSelect } from "./ColumnSelect";
import { ConditionField } from "./ConditionField";
import { KeysField } from "./KeysField";
import { LevelOrder } from "./LevelOrder";
import { ListField } from "./ListField";
import { type StepContext, type StepField, type StepRecord, textOf } from "./steps";
import { Ticks } from "./Ticks";

interface Props {
  field: StepField;
  value: unknown;
  context: StepContext;
  onChange: (value: unknown) => void;
  keysOf: { table: string; step: StepRecord; steps: StepRecord[] };
}

/** One thing that a step asks, with the control that fits it. */
export function StepFieldRow({ field, value, context, onChange, keysOf }: Props) {
  const id = useId();
  const about = textOf(keysOf.step, field.of);
  const levels = context.columns.find(({ name }) => name === about)?.levels.map(({ level }) => level) ?? [];
  const control = (): ReactNode => {
    switch (field.asks) {
      case "column":
        return (
          <ColumnSelect
            id={id}
            value={value as string | null}
            columns={context.columns}
            kinds={field.kinds.length ? field.kinds : undefined}
            none={field.none || undefined}
            onChange={onChange}
          />
        );
      case "columns":
        return <Ticks all={context.columns.map((c) => c.name)} on={value as string[]} onChange={onChange} />;
      case "levels":
        return <Ticks all={levels} on={value as string[]} onChange={onChange} />;
      case "order":
        return <LevelOrder levels={value as string[]} onChange={onChange} />;
      case "text":
      case "formula":
        return (
          <input
            id={id}
            value={(value as string | null) ?? ""}
            onChange={(event) => onChange(field.none && !event.target.value ? null : event.target.value)}
            className={`input ${field.asks === "formula" ? "number w-[26rem] text-[13px]" : "w-40"}`}
          />
        );
      case "number":
        return (
          <ListField
            id={id}
            text={value === null ? "" : String(value)}
            narrow
            onText={(text) => typedNumber(text) !== null && onChange(typedNumber(text))}
          />
        );
      case "numbers":
        return (
          <ListField
            id={id}
            text={(value as number[]).join(", ")}
            onText={(text) => {
              const parts = text
                .split(/[,;\s]+/)
                .filter(Boolean)
                .map(Number);
              if (parts.length && parts.every(Number.isFinite)) onChange(parts);
            }}
          />
        );
      case "list":
        return (
          <ListField
            id={id}
            text={(value as string[]).join(", ")}
            onText={(text) =>
              onChange(
                text
                  .split(",")
                  .map((part) => part.trim())
                  .filter(Boolean),
              )
            }
          />
        );
      case "choice":
        return field.options.length > 3 || field.none ? (
          <select
            id={id}
            className="input"
            value={(value as string | null) ?? ""}
            onChange={(event) => onChange(event.target.value || null)}
          >
            {field.none && <option value="">{field.none}</option>}
            {field.options.map((option) => (
              <option key={option}>{option}</option>
            ))}
          </select>
        ) : (
          <Choice
            name={field.name}
            value={value as string}
            options={field.options.map((option) => ({ value: option, name: option }))}
            onChange={onChange}
          />
        );
      case "yes-no":
        return (
          <input
            id={id}
            type="checkbox"
            checked={value as boolean}
            onChange={(event) => onChange(event.target.checked)}
            className="size-4 accent-petrol"
          />
        );
      case "map":
      case "map of numbers":
        return (
          <LevelMap
            levels={levels}
            value={value as Record<string, string | number>}
            numbers={field.asks === "map of numbers"}
            onChange={onChange}
          />
        );
      case "condition":
        return (
          <ConditionField
            value={value}
            columns={context.columns}
            none={field.none || undefined}
            onChange={onChange}
          />
        );
      case "table":
        return <TableSelect id={id} value={value} tables={context.tables} onChange={onChange} />;
      case "keys":
        return <KeysField value={value} context={context} onChange={onChange} {...keysOf} />;
      case "left out":
        return <LeftOutRows value={value as LeftOutEntry[]} onChange={onChange} />;
      default:
        throw new Error(`no control for ${field.asks}`);
    }
  };
  return (
    <div title={field.help || undefined}>
      <label htmlFor={id} className="block text-[12px] text-muted">
        {field.name}
      </label>
      {control()}
    </div>
  );
}

interface MapProps {
  levels: string[];
  value: Record<string, string | number>;
  numbers: boolean;
  onChange: (value: Record<string, string | number>) => void;
}

/** A word or a number for each level; empty leaves it out. */
function LevelMap({ levels, value, numbers, onChange }: MapProps) {
  const put = (level: string, text: string) => {
    const rest = Object.fromEntries(Object.entries(value).filter(([name]) => name !== level));
    const typed = numbers ? typedNumber(text) : text;
    onChange(text === "" || typed === null ? rest : { ...rest, [level]: typed });
  };
  return (
    <div className="grid max-h-28 grid-cols-[auto_9rem] items-center gap-x-2 gap-y-1 overflow-y-auto">
      {levels.map((level) => (
        <LevelInput
          key={level}
          level={level}
          text={String(value[level] ?? "")}
          onText={(text) => put(level, text)}
        />
      ))}
    </div>
  );
}

function LevelInput({ level, text, onText }: { level: string; text: string; onText: (text: string) => void }) {
  const id = useId();
  return (
    <>
      <label htmlFor={id} className="max-w-40 truncate text-right text-[13px]">
        {level}
      </label>
      <ListField id={id} text={text} onText={onText} />
    </>
  );
}

function TableSelect(props: {
  id: string;
  value: unknown;
  tables: TableLink[];
  onChange: (value: unknown) => void;
}) {
  const sha = (props.value as { sha256: string }).sha256;
  return (
    <select
      id={props.id}
      className="input max-w-56"
      value={props.tables.find((link) => link.reference.sha256 === sha)?.id ?? ""}
      onChange={(event) => {
        const link = props.tables.find((table) => table.id === event.target.value);
        if (link) props.onChange(link.reference);
      }}
    >
      {props.tables.map((link) => (
        <option key={link.id} value={link.id}>
          {link.name}
        </option>
      ))}
    </select>
  );
}

interface LeftOutEntry {
  row: number;
  part: string;
  reason: string;
  by: string;
}

function LeftOutRows({ value, onChange }: { value: LeftOutEntry[]; onChange: (value: LeftOutEntry[]) => void }) {
  return (
    <ul className="max-h-28 overflow-y-auto">
      {value.map((entry, place) => (
        <li key={place} className="flex items-baseline gap-3 py-0.5">
          <span className="number w-24">
            row {entry.row} {entry.part}
          </span>
          <span>“{entry.reason}”</span>
          <span className="text-muted">{entry.by}</span>
          {value.length > 1 && (
            <button
              type="button"
              className="font-bold text-petrol"
              onClick={() => onChange(value.filter((_, i) => i !== place))}
            >
              Bring back
            </button>
          )}
        </li>
      ))}
    </ul>
  );
}
