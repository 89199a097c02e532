import { useState } from "react";
import type { AskBatch, ColumnSummary } from "../../api/generated";
import { OutgoingProgress } from "../../outgoing/OutgoingProgress";
import { useOutgoing } from "../../outgoing/useOutgoing";
import { Button } from "../../ui/Button";
import { PickRow } from "../../ui/PickRow";

const MOST_LEVELS = 500;
const FORMATS = ["pdf", "svg", "png", "tiff"] as const;
const NAMES: Record<AskBatch["file_format"], string> = {
  pdf: "one PDF",
  svg: "SVG each, in a zip",
  png: "PNG each, in a zip",
  tiff: "TIFF each, in a zip",
};

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
  const [each, setEach] = useState<string | null>(null);
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
  const distinctOf = (name: string) => splits.find((one) => one.name === name)?.distinct ?? 1;
  const count = (each ? distinctOf(each) : 1) * (all ? measures.length : 1);
  const ask = () =>
    start({
      what: "batch",
      comparison,
      entry,
      each,
      measures: all ? [] : null,
      file_format: format,
      dpi,
      width: width === null ? null : `${width}mm`,
    });
  return (
    <section aria-label="Many figures" className="mt-5 grid gap-2 border-t border-hairline pt-3">
      <h3 className="font-bold">The same figure many times</h3>
      <PickRow
        name="For each"
        value={each}
        options={splits.map((column) => column.name)}
        nothing="no column"
        words={(name) => `${name} (${distinctOf(name)})`}
        onPick={setEach}
      />
      <PickRow
        name="Measures"
        value={all ? "all" : null}
        options={["all"] as const}
        nothing={`${measure} alone`}
        words={() => `all ${measures.length}`}
        onPick={(picked) => setAll(picked === "all")}
      />
      <PickRow
        name="As"
        value={format}
        options={FORMATS}
        words={(one) => NAMES[one]}
        onPick={(one) => setFormat(one ?? "pdf")}
      />
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
