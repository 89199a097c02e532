import type { LaneDifferences } from "../../api/generated";
import { fixed } from "../ledger/readings";
import { domainOf, IntervalPlot } from "./IntervalPlot";
import { decimalsOf, intervalWords, nothingDiffers, pWords, testOf, testWords } from "./words";

/** One estimate of every pair with its interval, all on one axis. */
export function Sizes(props: {
  data: LaneDifferences;
  names: string[];
  shown: string;
  places: number;
  onName: (name: string) => void;
}) {
  const { data, names, shown, places, onName } = props;
  const lines = data.pairs.flatMap((pair) => pair.estimates.filter((line) => line.name === shown));
  const zero = nothingDiffers(shown);
  const margin = shown.includes("mean") && !shown.includes("ratio") ? data.asked.margin : null;
  const domain = domainOf(lines, zero, margin);
  if (data.pairs.length === 0) return <p className="text-muted">Nothing to compare: one lane.</p>;
  return (
    <section aria-label="Sizes" className="border-t border-hairline pt-3">
      <select
        aria-label="Estimate"
        value={shown}
        onChange={(event) => onName(event.target.value)}
        className="min-w-0 rounded border border-hairline bg-sheet px-2 py-1 w-full font-bold"
      >
        {names.map((name) => (
          <option key={name}>{name}</option>
        ))}
      </select>
      <ul className="mt-2 grid grid-cols-[minmax(0,1fr)] gap-2">
        {data.pairs.map((pair) => {
          const line = pair.estimates.find((estimate) => estimate.name === shown);
          const test = pair.tests.find((test) => test.name === testOf(shown)) ?? pair.tests[0];
          if (!line) return null;
          const value = line.value === null ? "–" : fixed(line.value, decimalsOf(line, places));
          return (
            <li key={pair.reference + pair.other} aria-label={`${pair.other} to ${pair.reference}`}>
              <p className="flex justify-between gap-2">
                <span className="min-w-0 truncate" title={`${pair.other} to ${pair.reference}`}>
                  {pair.other} <span className="text-muted">to {pair.reference}</span>
                </span>
                <strong className="number" title={String(line.value)} data-testid="size">
                  {value}
                </strong>
              </p>
              <div className="flex items-center justify-between gap-2">
                <IntervalPlot line={line} domain={domain} zero={zero} margin={margin} />
                <span
                  className="number text-right text-[11.5px] tracking-[-0.03em] whitespace-nowrap text-muted"
                  title={line.remark || line.method}
                >
                  {intervalWords(line, places)}
                </span>
              </div>
              {test?.p != null && (
                <p className="text-[12px] text-muted" title={testWords(test)}>
                  {test.name} {pWords(test.p_adjusted ?? test.p)}
                  {test.p_adjusted !== null &&
                    data.pairs.length > 1 &&
                    data.asked.adjusted !== "none" &&
                    ` (${data.asked.adjusted})`}
                </p>
              )}
              {pair.note && <p className="text-[12px] text-muted">{pair.note}</p>}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
