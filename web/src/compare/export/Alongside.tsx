import { useState } from "react";
import { FileJobProgress } from "../../fileJobs/FileJobProgress";
import { Button } from "../../ui/Button";
import { Tick } from "../../ui/Tick";
import type { Settled } from "../store/benchStore";
import { stateOf } from "./sheet";
import { useExport } from "./useExport";

interface Props {
  comparison: string;
  rows: number;
  /** The state that leaves; null until what is shown is kept. */
  settled: Settled | null;
  /** Rows, recipes and what holds them are for those who may see rows. */
  looking: boolean;
  onSave: (work: () => Promise<unknown>) => Promise<void>;
}

const NUMBERS = [
  { name: "CSV", kind: "readings", as: "csv" },
  { name: "XLSX", kind: "readings", as: "xlsx" },
  { name: "JSON", kind: "readings", as: "json" },
];
const REPORTS = [
  { name: "HTML", kind: "report", as: "html" },
  { name: "PDF", kind: "report", as: "pdf" },
];
const ROWS = [
  { name: "CSV", kind: "rows", as: "csv" },
  { name: "XLSX", kind: "rows", as: "xlsx" },
];

/** What goes with the figure: its numbers, its rows, how it was made, all of it. */
export function Alongside({ comparison, rows, settled, looking, onSave }: Props) {
  const { state, save: saved, stop } = useExport(comparison, rows);
  const [coded, setCoded] = useState(false);
  const save = (kind: string, more: Record<string, string> = {}) => {
    const choices: Record<string, string> = { ...more, ...stateOf(settled) };
    return onSave(() => saved(kind, choices));
  };
  const formats = (name: string, choices: typeof NUMBERS) => (
    <p className="flex items-baseline justify-between gap-2">
      <span>{name}</span>
      <span className="flex gap-3">
        {choices.map(({ name: format, kind, as }) => (
          <Button
            key={format}
            look="quiet"
            className="!p-0"
            disabled={settled === null}
            aria-label={`${name} as ${format}`}
            onClick={() => void save(kind, { as })}
          >
            {format}
          </Button>
        ))}
      </span>
    </p>
  );
  const row = (name: string, help: string, press: () => void) => (
    <p className="flex items-baseline justify-between gap-2">
      <span>
        {name} <span className="text-[12px] text-muted">{help}</span>
      </span>
      <Button look="quiet" className="!p-0" disabled={settled === null} aria-label={`Save ${name}`} onClick={press}>
        Save
      </Button>
    </p>
  );
  return (
    <section aria-label="With the figure" className="mt-5 grid gap-2 border-t border-hairline pt-3">
      <h3 className="font-bold">With the figure</h3>
      {formats("Readings", NUMBERS)}
      {!looking && formats("Rows in use", ROWS)}
      {row("Method note", "text", () => void save("note"))}
      {!looking && row("Recipe", "redraws it from the raw file", () => void save("recipe"))}
      {!looking && formats("Report", REPORTS)}
      {!looking &&
        row("Bundle", "all of it, to redraw anywhere", () => void save("bundle", { coded: String(coded) }))}
      {state && <FileJobProgress state={state} onStop={stop} />}
      {!looking && <Tick name="Bundle with running codes for identifiers" on={coded} onChange={setCoded} />}
    </section>
  );
}
