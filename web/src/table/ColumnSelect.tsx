import type { ColumnSummary } from "../api/generated";

interface SelectProps {
  id?: string;
  label?: string;
  value: string | null;
  columns: ColumnSummary[];
  kinds?: ColumnSummary["kind"][] | undefined;
  none?: string | undefined;
  onChange: (value: string | null) => void;
}

/** A column by name; those of a fitting kind first. */
export function ColumnSelect({ id, label, value, columns, kinds, none, onChange }: SelectProps) {
  const fit = columns.filter((c) => !kinds || kinds.includes(c.kind));
  const shown =
    value !== null && !fit.some((c) => c.name === value)
      ? [...fit, ...columns.filter((c) => c.name === value)]
      : fit;
  return (
    <select
      id={id}
      aria-label={label}
      className="input max-w-56"
      value={value ?? ""}
      onChange={(event) => onChange(event.target.value || null)}
    >
      {none !== undefined && <option value="">{none}</option>}
      {shown.map((column) => (
        <option key={column.name}>{column.name}</option>
      ))}
    </select>
  );
}
