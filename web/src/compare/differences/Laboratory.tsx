import { Fragment } from "react";
import type { LaneDifferences } from "../../api/generated";
import { say } from "../../words";
import { fixed } from "../ledger/readings";

/** Reference limits, which can become a guide; the spread of runs; control rules and the rows that break them. */
export function Laboratory(props: {
  data: LaneDifferences;
  places: number;
  onGuide: (band: [number, number]) => void;
  /** Nested lanes: each lane split by its runs. */
  onSplit: (runs: string) => void;
}) {
  const { data, places, onGuide, onSplit } = props;
  const { limits, components, control } = data;
  return (
    <>
      {limits && (
        <section aria-label="Reference limits" className="mt-3 border-t border-hairline pt-2">
          <h3 className="font-bold">Reference limits, central {100 * limits.share} %</h3>
          {limits.limits.map((line) => (
            <p key={line.lane} className="mt-1">
              {line.lane}:{" "}
              {line.lower === null && line.upper === null ? (
                <span className="text-muted">{line.remark}</span>
              ) : (
                <>
                  <span className="number">
                    {fixed(line.lower, places)} – {fixed(line.upper, places)}
                  </span>{" "}
                  {line.lower !== null && line.upper !== null && (
                    <button
                      type="button"
                      className="font-bold text-petrol hover:underline"
                      aria-label={`Guide from the limits of ${line.lane}`}
                      onClick={() =>
                        onGuide([Number(line.lower?.toFixed(places)), Number(line.upper?.toFixed(places))])
                      }
                    >
                      as a guide
                    </button>
                  )}
                  <span className="block text-[12px] text-muted">
                    {100 * limits.level} % intervals {fixed(line.lower_interval[0], places)} to{" "}
                    {fixed(line.lower_interval[1], places)} and {fixed(line.upper_interval[0], places)} to{" "}
                    {fixed(line.upper_interval[1], places)}, n = {line.n}
                    {line.remark && `; ${line.remark}`}
                  </span>
                </>
              )}
            </p>
          ))}
          {limits.partitions
            .filter((two) => two.apart)
            .map((two) => (
              <p key={two.lanes.join("/")} className="mt-1 text-[12px] text-muted">
                {two.lanes.join(" and ")} need limits of their own (Harris &amp; Boyd 1990).
              </p>
            ))}
          {limits.remarks.map((remark) => (
            <p key={remark} className="mt-1 text-[12px] text-muted">
              {remark}
            </p>
          ))}
        </section>
      )}
      {control && (
        <section aria-label="Control rules" className="mt-3 border-t border-hairline pt-2">
          <h3 className="font-bold">Control rules, rows in their order</h3>
          {control.targets.map((line) => (
            <p key={`${line.lane}${line.first}`} className="flex justify-between gap-2 text-[12.5px]">
              <span className="min-w-0 truncate">{line.lot ? `${line.lane}, ${line.lot}` : line.lane}</span>
              <span className="number whitespace-nowrap text-muted">
                {line.mean === null || line.sd === null
                  ? "no target"
                  : `${fixed(line.mean, places)}, SD ${fixed(line.sd, places + 1)}`}
              </span>
            </p>
          ))}
          {control.hits.length === 0 && <p className="text-muted">No rule is broken.</p>}
          {control.hits.map((hit, place) => (
            <p key={place} className="text-[12.5px]">
              {hit.lane}: <strong>{hit.rule}</strong>{" "}
              <span className="number text-muted">
                {hit.rows[0] === 0
                  ? say("count-rows", { count: hit.rows.length })
                  : `${hit.rows.length > 1 ? "rows" : "row"} ${hit.rows.join(", ")}`}
              </span>
            </p>
          ))}
        </section>
      )}
      {components && (
        <section aria-label="Spread components" className="mt-3 border-t border-hairline pt-2">
          <h3 className="font-bold">Spread by {components.runs}</h3>
          <SpreadTable data={components} places={places} />
          <button
            type="button"
            className="mt-1 font-bold text-petrol hover:underline"
            onClick={() => onSplit(components.runs)}
          >
            Split the lanes by {components.runs}
          </button>
          {components.remarks.map((remark) => (
            <p key={remark} className="text-[12px] text-muted">
              {remark}
            </p>
          ))}
        </section>
      )}
    </>
  );
}

/** SD and CV of each lane, within runs, between them and in all, each with its interval. */
function SpreadTable({ data, places }: { data: NonNullable<LaneDifferences["components"]>; places: number }) {
  return (
    <table className="w-full text-[12px]">
      <thead>
        <tr className="text-left text-muted">
          <th className="font-normal">lane</th>
          <th className="text-right font-normal">SD ({100 * data.level} %)</th>
          <th className="text-right font-normal">CV %</th>
        </tr>
      </thead>
      <tbody>
        {data.parts.map((part, i) => (
          <Fragment key={part.lane + part.name}>
            {data.parts[i - 1]?.lane !== part.lane && (
              <tr>
                <th colSpan={3} className="pt-1 text-left">
                  {part.lane}
                </th>
              </tr>
            )}
            <tr className="align-top">
              <td>{part.name}</td>
              <td className="number text-right">
                {fixed(part.sd, places + 1)}
                {part.low !== null && part.high !== null && (
                  <span className="block text-[11px] text-muted">
                    {fixed(part.low, places + 1)} to {fixed(part.high, places + 1)}
                  </span>
                )}
              </td>
              <td className="number text-right">{part.cv === null ? "–" : fixed(part.cv, 1)}</td>
            </tr>
          </Fragment>
        ))}
      </tbody>
    </table>
  );
}
