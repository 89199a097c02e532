import { useId } from "react";
import type { ColumnSummary } from "../../api/generated";
import { Field } from "../../ui/Field";
import { typedNumbers } from "../../ui/numbers";
import { PickRow } from "../../ui/PickRow";
import { Row } from "../../ui/Row";
import { Tick } from "../../ui/Tick";
import type { Asked } from "./asked";
import { ControlOptions } from "./ControlOptions";
import { PositiveRow } from "./PositiveRow";

const TO: Asked["to"][] = ["reference", "neighbours", "all pairs", "subgroups"];
const LEVELS = ["0.9", "0.95", "0.99"];
const ADJUSTED: Asked["adjusted"][] = ["none", "Holm", "Benjamini–Hochberg", "Bonferroni"];
const REPEATS: Asked["repeats"][] = ["mean", "median", "mixed model"];
const LIMITS: NonNullable<Asked["limits"]>[] = ["non-parametric", "robust", "log-normal", "Box–Cox"];

interface Props {
  asked: Asked;
  levels: string[];
  columns: ColumnSummary[];
  /** Whether pairs are compared by the row that their values stand in. */
  byRow: boolean;
  onChange: (change: Partial<Asked>) => void;
}

/** What is set against what, and how surely. */
export function Options({ asked, levels, columns, byRow, onChange }: Props) {
  const percentiles = useId();
  const subjects = columns.filter((column) => column.kind === "identifier").map((column) => column.name);
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-2">
      <PickRow
        name="Compare"
        path="differences.to"
        value={asked.to}
        options={TO}
        onPick={(to) => onChange({ to: to ?? "reference" })}
      />
      {asked.to === "reference" && (
        <PickRow
          name="Reference"
          path="differences.reference"
          value={asked.reference}
          options={levels}
          nothing={levels[0] ?? "the first"}
          onPick={(reference) => onChange({ reference })}
        />
      )}
      <PickRow
        name="Interval"
        path="differences.level"
        value={String(asked.level)}
        options={LEVELS}
        words={(level) => `${100 * Number(level)} %`}
        onPick={(level) => onChange({ level: Number(level) })}
      />
      <PickRow
        name="p adjusted by"
        path="differences.adjusted"
        value={asked.adjusted}
        options={ADJUSTED}
        onPick={(adjusted) => onChange({ adjusted: adjusted ?? "Holm" })}
      />
      {subjects.length > 0 && (
        <PickRow
          name="Paired by"
          path="differences.paired_by"
          value={asked.paired_by}
          options={subjects}
          nothing="not paired"
          onPick={(paired_by) => onChange({ paired_by, drawn: paired_by !== null && asked.drawn })}
        />
      )}
      {asked.paired_by === null && (byRow || asked.by_row !== null) && (
        <Tick
          name="Values of one row are pairs"
          path="differences.by_row"
          on={byRow}
          onChange={(by_row) => onChange({ by_row, drawn: by_row && asked.drawn })}
        />
      )}
      {asked.paired_by && (
        <PickRow
          name="Repeats"
          path="differences.repeats"
          help="Several rows of one subject: reduced to one value first, or all kept by a mixed model"
          value={asked.repeats}
          options={REPEATS}
          onPick={(repeats) => onChange({ repeats: repeats ?? "mean" })}
        />
      )}
      <PositiveRow
        name="Margin"
        path="differences.margin"
        help="A difference up to this counts as equivalent"
        value={asked.margin}
        onSettle={(margin) => onChange({ margin })}
      />
      <PositiveRow
        name="Resamples"
        path="differences.resamples"
        help="How often bootstrap and permutations draw again, 500 to 100 000"
        value={asked.resamples}
        onSettle={(resamples) => resamples !== null && onChange({ resamples: Math.round(resamples) })}
      />
      <PositiveRow
        name="Seed"
        path="differences.seed"
        help="The number that fixes what bootstrap and permutations draw"
        value={asked.seed}
        onSettle={(seed) => seed !== null && onChange({ seed: Math.round(seed) })}
      />
      <Row
        name="Percentiles"
        path="differences.percentiles"
        id={percentiles}
        help="Shares whose differences stand beside medians: 0.1; 0.9"
      >
        <Field
          id={percentiles}
          value={asked.percentiles.join("; ")}
          onSettle={(text) => {
            const typed = text === "" ? [] : typedNumbers(text);
            if (!typed || typed.length > 6 || typed.some((share) => share <= 0 || share >= 1)) return false;
            onChange({ percentiles: typed });
            return true;
          }}
          className="number min-w-0 rounded border border-hairline bg-sheet px-2 py-1"
        />
      </Row>
      <Tick
        name="Intervals hold together"
        path="differences.together"
        on={asked.together}
        onChange={(together) => onChange({ together })}
      />
    </div>
  );
}

/** Reference limits, spread by runs, and control rules. */
export function LaboratoryOptions({ asked, columns, onChange }: Omit<Props, "levels" | "byRow">) {
  const divides = columns.filter((c) => c.kind !== "measure" && c.kind !== "text").map((c) => c.name);
  return (
    <div className="mt-3 grid grid-cols-[minmax(0,1fr)] gap-2 border-t border-hairline pt-3">
      <h3 className="font-bold">For the laboratory</h3>
      <PickRow
        name="Ref. limits"
        path="differences.limits"
        value={asked.limits}
        options={LIMITS}
        nothing="none"
        onPick={(limits) => onChange({ limits })}
      />
      <PickRow
        name="Runs"
        path="differences.runs"
        help="Spread within and between the levels of this column"
        value={asked.runs}
        options={divides}
        nothing="no column"
        onPick={(runs) => onChange({ runs })}
      />
      <ControlOptions
        control={asked.control}
        columns={columns}
        divides={divides}
        onChange={(control) => onChange({ control })}
      />
    </div>
  );
}
