import { useId, useState } from "react";
import type { AskBatch, ColumnSummary } from "../../api/generated";
import { OutgoingProgress } from "../../outgoing/OutgoingProgress";
import { useOutgoing } from "../../outgoing/useOutgoing";
import { Button } from "../../ui/Button";
import { Row } from "../../ui/Row";

const MOST_LEVELS = 500;
const FIELD = "min-w-0 w-full rounded border border-hairline bg-sheet px-2 py-1";
const FORMATS: { value: AskBatch["file_format"]; name: string }[] = [
  { value: "pdf", name: "one PDF" },
  { value: "svg", name: "SVG each, in a zip" },
  { value: "png", name: "PNG each, in a zip" },
  { value: "tiff", name: "TIFF each, in a zip" },
];

interface Props {
  comparison: string;
  entry: number | null;
  columns: ColumnSummary[];
  /** Those that the figure shows already. */
  measure: string;
  /** Width of the sheet in mm; null keeps the figure's own. */
  width: number | null;
  dpi: number;
}

/** The same figure many times: for every level of a column, for every measure. */
export function Many({ comparison, entry, columns, measure, width, dpi }: Props) {
  const id = useId();
  const [each, setEach] = useState("");
  const [all, setAll] = useState(false);
  const [format, setFormat] = useState<AskBatch["file_format"]>("pdf");
  const { state, start, stop } = useOutgoing();
  const found = columns.filter((column) => column.kind !== "measure" && column.distinct <= MOST_LEVELS);
  // Groups first: a figure for each person is rarely meant.
  const splits = [
    ...found.filter(({ kind }) => kind !== "identifier"),
    ...found.filter(({ kind }) => kind === "identifier"),
  ];
  const measures = columns.filter((column) => column.kind === "measure" && column.distinct > 0);
  const count = (each ? (splits.find((one) => one.name === each)?.distinct ?? 1) : 1) * (all ? measures.length : 1);
  const ask = () =>
    start({
      what: "batch",
      comparison,
      entry,
      each: each || null,
      measures: all ? [] : null,
      file_format: format,
      dpi,
      width: width === null ? null : `${width}mm`,
    });
  return (
    <section aria-label="Many figures" className="mt-5 grid gap-2 border-t border-hairline pt-3">
      <h3 className="font-bold">The same figure many times</h3>
      <Row name="For each" id={`${id}each`}>
        <select id={`${id}each`} value={each} onChange={(event) => setEach(event.target.value)} className={FIELD}>
          <option value="">no column</option>
          {splits.map((column) => (
            <option key={column.name} value={column.name}>
              {column.name} ({column.distinct})
            </option>
          ))}
        </select>
      </Row>
      <Row name="Measures" id={`${id}measures`}>
        <select
          id={`${id}measures`}
          value={all ? "all" : ""}
          onChange={(event) => setAll(event.target.value === "all")}
          className={FIELD}
        >
          <option value="">{measure} alone</option>
          <option value="all">all {measures.length}</option>
        </select>
      </Row>
      <Row name="As" id={`${id}as`}>
        <select
          id={`${id}as`}
          value={format}
          onChange={(event) => setFormat(event.target.value as AskBatch["file_format"])}
          className={FIELD}
        >
          {FORMATS.map(({ value, name }) => (
            <option key={value} value={value}>
              {name}
            </option>
          ))}
        </select>
      </Row>
      {state ? (
        <OutgoingProgress state={state} onStop={stop} />
      ) : (
        <Button
          look="quiet"
          className="justify-self-start !p-0"
          disabled={entry === null || (!each && !all)}
          onClick={() => void ask()}
        >
          {each || all ? `Save ${count} figures` : "Choose a column or all measures"}
        </Button>
      )}
    </section>
  );
}
