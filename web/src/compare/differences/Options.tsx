import { useId } from "react";
import type { ColumnSummary, Recipe } from "../../api/generated";
import { Field } from "../../ui/Field";
import { typedNumber } from "../../ui/numbers";
import { Row } from "../../ui/Row";

export type Asked = NonNullable<Recipe["differences"]>;

const TO: Asked["to"][] = ["reference", "neighbours", "all pairs", "subgroups"];
const LEVELS = [0.9, 0.95, 0.99];
const ADJUSTED: Asked["adjusted"][] = ["none", "Holm", "Benjamini–Hochberg", "Bonferroni"];
const LIMITS: NonNullable<Asked["limits"]>[] = ["non-parametric", "robust", "log-normal", "Box–Cox"];
const SELECT = "min-w-0 rounded border border-hairline bg-sheet px-2 py-1";

/** What is set against what, and how surely. */
export function Options(props: {
  asked: Asked;
  levels: string[];
  columns: ColumnSummary[];
  onChange: (change: Partial<Asked>) => void;
}) {
  const { asked, levels, columns, onChange } = props;
  const id = useId();
  const pick = (key: keyof Asked, name: string, options: readonly (string | number)[], nothing?: string) => (
    <Row name={name} id={id + key}>
      <select
        id={id + key}
        value={String(asked[key] ?? "")}
        onChange={(event) => {
          const found = options.find((option) => String(option) === event.target.value);
          onChange({ [key]: found ?? null } as Partial<Asked>);
        }}
        className={SELECT}
      >
        {nothing !== undefined && <option value="">{nothing}</option>}
        {options.map((option) => (
          <option key={option} value={option}>
            {typeof option === "number" ? `${100 * option} %` : option}
          </option>
        ))}
      </select>
    </Row>
  );
  const divides = columns
    .filter((column) => column.kind !== "measure" && column.kind !== "text")
    .map((c) => c.name);
  const subjects = columns.filter((column) => column.kind === "identifier").map((column) => column.name);
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-2">
      {pick("to", "Compare", TO)}
      {asked.to === "reference" && pick("reference", "Reference", levels, levels[0] ?? "the first")}
      {pick("level", "Interval", LEVELS)}
      {pick("adjusted", "p adjusted by", ADJUSTED)}
      {subjects.length > 0 && pick("paired_by", "Paired by", subjects, "not paired")}
      {asked.paired_by && pick("reduced", "Repeats", ["mean", "median"])}
      <Row name="Margin" id={`${id}margin`} help="A difference up to this counts as equivalent">
        <Field
          id={`${id}margin`}
          inputMode="decimal"
          placeholder="none"
          value={asked.margin === null ? "" : String(asked.margin)}
          onSettle={(text) => {
            const typed = typedNumber(text);
            if (text !== "" && (typed === null || typed <= 0)) return false;
            onChange({ margin: typed });
            return true;
          }}
          className={`number ${SELECT}`}
        />
      </Row>
      {pick("limits", "Ref. limits", LIMITS, "none")}
      {(asked.control === null || asked.control === "own") && pick("control", "Control", ["own"], "no rules")}
      {pick("runs", "Runs", divides, "no column")}
      <label htmlFor={`${id}together`} className="flex items-center gap-2">
        <input
          id={`${id}together`}
          type="checkbox"
          className="size-4 accent-petrol"
          checked={asked.together}
          onChange={(event) => onChange({ together: event.target.checked })}
        />
        Intervals hold together
      </label>
    </div>
  );
}
