import type { ColumnSummary } from "../../api/generated";
import { Field } from "../../ui/Field";
import { typedNumber } from "../../ui/numbers";
import { PickRow } from "../../ui/PickRow";
import { Row } from "../../ui/Row";
import type { Asked } from "./asked";

type Control = NonNullable<Asked["control"]>;
type Kind = "own mean and SD" | "a target" | "a stretch";

const KINDS: Kind[] = ["own mean and SD", "a target", "a stretch"];
const USUAL: Record<Kind, Control["target"]> = {
  "own mean and SD": "own",
  "a target": { mean: 0, sd: 1 },
  "a stretch": { first: 1, last: 20 },
};
const FIELD = "number w-full min-w-0 rounded border border-hairline bg-sheet px-2 py-1";

/** What control rules hold values against, in which order, and where they begin anew. */
export function ControlOptions(props: {
  control: Control | null;
  columns: ColumnSummary[];
  divides: string[];
  onChange: (control: Control | null) => void;
}) {
  const { control, columns, divides, onChange } = props;
  const ordering = columns.filter((c) => c.kind === "measure" || c.kind === "date").map((c) => c.name);
  const kind = control ? kindOf(control) : null;
  return (
    <>
      <PickRow
        name="Control"
        path="differences.control.target"
        help="Rules such as 1-3s in the order of the values, and what they are held against"
        value={kind}
        options={KINDS}
        nothing="no rules"
        onPick={(picked) => onChange(picked && { order: null, lots: null, ...control, target: USUAL[picked] })}
      />
      {control && kind === "a target" && (
        <TwoFields name="Mean, SD" names={["Target mean", "Target SD"]} control={control} onChange={onChange} />
      )}
      {control && kind === "a stretch" && (
        <TwoFields name="Values" names={["First value", "Last value"]} control={control} onChange={onChange} />
      )}
      {control && (
        <>
          <PickRow
            name="In order of"
            path="differences.control.order"
            value={control.order}
            options={ordering}
            nothing="the rows"
            onPick={(order) => onChange({ ...control, order })}
          />
          <PickRow
            name="Lots"
            path="differences.control.lots"
            help="Targets and rules begin anew where this column changes"
            value={control.lots}
            options={divides}
            nothing="no column"
            onPick={(lots) => onChange({ ...control, lots })}
          />
        </>
      )}
    </>
  );
}

function kindOf(control: Control): Kind {
  if (control.target === "own") return "own mean and SD";
  return "mean" in control.target ? "a target" : "a stretch";
}

/** Mean and SD, or the first and last value: kept only while they fit one another. */
function TwoFields(props: {
  name: string;
  names: [string, string];
  control: Control;
  onChange: (control: Control) => void;
}) {
  const { name, names, control, onChange } = props;
  const { target } = control;
  if (target === "own") return null;
  const now = "mean" in target ? [target.mean, target.sd] : [target.first, target.last];
  const settle = (place: number, text: string) => {
    const typed = typedNumber(text);
    const [a, b] = now.map((value, i) => (i === place ? typed : value));
    if (a == null || b == null) return false;
    if ("mean" in target) {
      if (b <= 0) return false;
      onChange({ ...control, target: { mean: a, sd: b } });
    } else {
      if (!Number.isInteger(a) || !Number.isInteger(b) || a < 1 || b <= a) return false;
      onChange({ ...control, target: { first: a, last: b } });
    }
    return true;
  };
  return (
    <Row name={name}>
      <span className="grid grid-cols-2 gap-2">
        {names.map((label, place) => (
          <Field
            key={label}
            aria-label={label}
            inputMode="decimal"
            value={String(now[place])}
            onSettle={(text) => settle(place, text)}
            className={FIELD}
          />
        ))}
      </span>
    </Row>
  );
}
