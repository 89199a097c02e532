import type { Compared } from "../../api/generated";
import { pWords, testWords } from "./words";

/** Tests of all lanes, of each pair, of two factors: beside the sizes, folded until asked for. */
export function Evidence({ data }: { data: Compared }) {
  const all = data.pairs.flatMap((pair) =>
    pair.tests.map((test) => ({ ...test, name: `${test.name}: ${pair.other} to ${pair.reference}` })),
  );
  const groups = [
    ["All lanes", data.overall],
    ["Each pair", all],
    ["Pairs that know of one another", data.pairwise],
  ] as const;
  return (
    <details className="mt-3 border-t border-hairline pt-2">
      <summary className="cursor-pointer font-bold">Tests, as evidence beside the sizes</summary>
      {groups
        .filter(([, tests]) => tests.length > 0)
        .map(([title, tests]) => (
          <div key={title} className="mt-2">
            <h3 className="text-[12.5px] text-muted">{title}</h3>
            {tests.map((test) => (
              <p key={test.name} className="text-[12.5px]">
                {test.name}: <strong>{test.p === null ? "–" : pWords(test.p)}</strong>
                {test.p_adjusted !== null && test.p_adjusted !== test.p && `, adjusted ${pWords(test.p_adjusted)}`}{" "}
                <span className="text-muted">{testWords(test)}</span>
              </p>
            ))}
          </div>
        ))}
      {data.two_factors && (
        <div className="mt-2">
          <h3 className="text-[12.5px] text-muted">Two factors, sums of squares of type II</h3>
          {data.two_factors.variance.map((line) => (
            <p key={line.source} className="text-[12.5px]">
              {line.source}: {line.p === null ? "" : <strong>{pWords(line.p)}</strong>}{" "}
              <span className="text-muted">
                {Number(line.squares.toPrecision(4))}, df {line.df}
              </span>
            </p>
          ))}
        </div>
      )}
    </details>
  );
}
