import type { LaneDifferences } from "../../api/generated";
import { fixed } from "../ledger/readings";
import { intervalWords, pWords, testWords } from "./words";

/** Tests of all lanes, of each pair, of two factors: beside the sizes, folded until asked for. */
export function Evidence({ data, places }: { data: LaneDifferences; places: number }) {
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
      {data.two_factors && <TwoFactors factors={data.two_factors} places={places} />}
    </details>
  );
}

/** Differences of differences first, then the analysis of variance with its companion by ranks. */
function TwoFactors({ factors, places }: { factors: NonNullable<LaneDifferences["two_factors"]>; places: number }) {
  const tables = [
    ["Analysis of variance, sums of squares of type II", factors.variance],
    ["The same by aligned ranks", factors.ranks],
  ] as const;
  return (
    <div className="mt-2">
      <h3 className="text-[12.5px] text-muted">Differences of differences</h3>
      {factors.differences.map((line) => (
        <p key={line.name} className="text-[12.5px]">
          {line.name}:{" "}
          <strong className="number">{line.value === null ? "–" : fixed(line.value, places + 1)}</strong>{" "}
          <span className="number text-muted">{intervalWords(line, places)}</span>
        </p>
      ))}
      {tables.map(([title, lines]) => (
        <table key={title} className="mt-2 w-full text-[12px]">
          <caption className="text-left text-[12.5px] text-muted">{title}</caption>
          <tbody>
            {lines.map((line) => (
              <tr key={line.source}>
                <td>{line.source}</td>
                <td className="number pl-2 text-right" title="sum of squares">
                  {Number(line.squares.toPrecision(4))}
                </td>
                <td className="number pl-2 text-right" title="degrees of freedom">
                  {line.df}
                </td>
                <td className="number pl-2 text-right whitespace-nowrap">
                  {line.p === null ? "" : <strong>{pWords(line.p)}</strong>}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ))}
    </div>
  );
}
