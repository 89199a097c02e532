import type { Compared } from "../../api/generated";
import { fixed } from "../ledger/readings";

/** Reference limits, which can become a guide; the spread of runs; control rules and the rows that break them. */
export function Laboratory(props: { data: Compared; places: number; onGuide: (band: [number, number]) => void }) {
  const { data, places, onGuide } = props;
  const { limits, components, control } = data;
  return (
    <>
      {limits && (
        <section aria-label="Reference limits" className="mt-3 border-t border-hairline pt-2">
          <h3 className="font-bold">Reference limits, central {100 * limits.share} %</h3>
          {limits.limits.map((line) => (
            <p key={line.lane} className="mt-1">
              {line.lane}:{" "}
              {line.lower === null || line.upper === null ? (
                <span className="text-muted">{line.remark}</span>
              ) : (
                <>
                  <span className="number">
                    {fixed(line.lower, places)} – {fixed(line.upper, places)}
                  </span>{" "}
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
        </section>
      )}
      {control && (
        <section aria-label="Control rules" className="mt-3 border-t border-hairline pt-2">
          <h3 className="font-bold">Control rules, rows in their order</h3>
          {control.hits.length === 0 && <p className="text-muted">No rule is broken.</p>}
          {control.hits.map((hit) => (
            <p key={hit.lane + hit.rule + hit.rows.join()} className="text-[12.5px]">
              {hit.lane}: <strong>{hit.rule}</strong>{" "}
              <span className="number text-muted">
                {hit.rows.length > 1 ? "rows" : "row"} {hit.rows.join(", ")}
              </span>
            </p>
          ))}
        </section>
      )}
      {components && (
        <section aria-label="Spread components" className="mt-3 border-t border-hairline pt-2">
          <h3 className="font-bold">Spread by {components.runs}</h3>
          {components.parts.map((part) => (
            <p key={part.lane + part.name} className="flex justify-between text-[12.5px]">
              <span>
                {part.lane}, {part.name}
              </span>
              <span className="number" title={`${part.low ?? "–"} to ${part.high ?? "–"}`}>
                SD {fixed(part.sd, places + 1)}
                {part.cv !== null && `, CV ${fixed(part.cv, 1)} %`}
              </span>
            </p>
          ))}
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
