import { useState } from "react";
import type { AskBatch, ColumnSummary, FormatOffer } from "../../api/generated";
import { useFormats } from "../../api/useFormats";
import { FileJobProgress } from "../../fileJobs/FileJobProgress";
import { useFileJob } from "../../fileJobs/useFileJob";
import { Button } from "../../ui/Button";
import { PickRow } from "../../ui/PickRow";

const MOST_LEVELS = 500;

type FormatName = NonNullable<AskBatch["file_format"]>;

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
  const formats = useFormats();
  // Those that hold all figures in one file come first.
  const batch = [...formats.filter(({ pages }) => pages), ...formats.filter(({ pages }) => !pages)];
  const [chosen, setChosen] = useState<string | null>(null);
  const format = batch.find(({ name }) => name === chosen) ?? batch[0];
  const { state, start, stop } = useFileJob();
  const levelled = columns.filter((column) => column.kind !== "measure" && column.distinct <= MOST_LEVELS);
  // Groups first: a figure for each person is rarely meant.
  const splits = [
    ...levelled.filter(({ kind }) => kind !== "identifier"),
    ...levelled.filter(({ kind }) => kind === "identifier"),
  ];
  const measures = columns.filter((column) => column.kind === "measure" && column.distinct > 0);
  const distinctOf = (name: string) => splits.find((column) => column.name === name)?.distinct ?? 1;
  const count = (each ? distinctOf(each) : 1) * (all ? measures.length : 1);
  const ask = () =>
    start({
      what: "batch",
      comparison,
      entry,
      each,
      measures: all ? [] : null,
      file_format: format?.name as FormatName,
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
        value={format?.name ?? null}
        options={batch.map(({ name }) => name)}
        words={(name) => batchWords(batch.find((entry) => entry.name === name))}
        onPick={setChosen}
      />
      {state ? (
        <FileJobProgress state={state} onStop={stop} />
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

function batchWords(format: FormatOffer | undefined): string {
  return format?.pages ? `one ${format.title}` : `${format?.title} each, in a zip`;
}
