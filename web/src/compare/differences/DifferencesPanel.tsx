import { useId, useState } from "react";
import type { ColumnSummary, Compared, Recipe, Scene } from "../../api/generated";
import { Field } from "../../ui/Field";
import { typedNumber } from "../../ui/numbers";
import { Row } from "../../ui/Row";
import { fixed, placesOf } from "../ledger/readings";
import { levelsShown } from "../sheet/lanes";
import { domainOf, IntervalPlot } from "./IntervalPlot";
import { useDifferences } from "./useDifferences";
import { decimalsOf, intervalWords, nothingDiffers, pWords, testWords } from "./words";

type Asked = NonNullable<Recipe["differences"]>;

const USUAL: Asked = {
  to: "reference",
  reference: null,
  level: 0.95,
  together: false,
  adjusted: "Holm",
  percentiles: [0.1, 0.9],
  paired_by: null,
  reduced: "mean",
  runs: null,
  limits: null,
  margin: null,
  seed: 41,
  resamples: 10_000,
};
const TO: Asked["to"][] = ["reference", "neighbours", "all pairs", "subgroups"];
const LEVELS = [0.9, 0.95, 0.99];
const ADJUSTED: Asked["adjusted"][] = ["none", "Holm", "Benjamini–Hochberg", "Bonferroni"];
const LIMITS: NonNullable<Asked["limits"]>[] = ["non-parametric", "robust", "log-normal", "Box–Cox"];
const SELECT = "min-w-0 rounded border border-hairline bg-sheet px-2 py-1";

interface Props {
  comparison: string;
  scene: Scene;
  recipe: Recipe;
  columns: ColumnSummary[];
  onSettle: (recipe: Recipe) => void;
}

/** How large the differences are: a size with its uncertainty first, tests beside it as evidence, and what fits here. */
export function DifferencesPanel({ comparison, scene, recipe, columns, onSettle }: Props) {
  const [name, setName] = useState("");
  const asked = recipe.differences ?? USUAL;
  const { data, error, isFetching } = useDifferences(comparison, recipe, true);
  const names = data?.pairs[0]?.estimates.map((line) => line.name) ?? [];
  const shown = names.includes(name)
    ? name
    : (data?.guide.fits.find((fit) => names.includes(fit)) ?? names[0] ?? "");
  return (
    <div className="grid gap-3 px-4 py-4">
      <Options
        asked={asked}
        levels={levelsShown(scene)}
        columns={columns}
        onChange={(change) => onSettle({ ...recipe, differences: { ...asked, ...change } })}
      />
      {error && <p className="text-warn">{error.message}.</p>}
      {!data && !error && <p className="text-muted">Computing…</p>}
      {data && (
        <div className={isFetching ? "opacity-60" : ""}>
          <Sizes data={data} names={names} shown={shown} places={placesOf(scene)} onName={setName} />
          <Evidence data={data} />
          <Laboratory
            data={data}
            places={placesOf(scene)}
            onGuide={(guide) => onSettle(withGuide(recipe, guide))}
          />
          <p className="mt-3 font-bold">What fits here: {data.guide.fits.join(", ")}.</p>
          {[...data.guide.why, ...data.remarks, data.guide.not_said].map((words) => (
            <p key={words} className="mt-1 text-[12.5px] text-muted">
              {words}
            </p>
          ))}
        </div>
      )}
    </div>
  );
}

function withGuide(recipe: Recipe, band: [number, number]): Recipe {
  const guide = { at: null, band, label: "reference limits", dash: "dashed" as const };
  return { ...recipe, guides: [...recipe.guides, guide] };
}

function Options(props: {
  asked: Asked;
  levels: string[];
  columns: ColumnSummary[];
  onChange: (change: Partial<Asked>) => void;
}) {
  const { asked, levels, columns, onChange } = props;
  const id = useId();
  const pick = (key: keyof Asked, name: string, options: readonly (string | number)[], nothing?: string) => (
    <Row name={name} id={id + key}>
      <select
        id={id + key}
        value={String(asked[key] ?? "")}
        onChange={(event) => {
          const found = options.find((option) => String(option) === event.target.value);
          onChange({ [key]: found ?? null } as Partial<Asked>);
        }}
        className={SELECT}
      >
        {nothing !== undefined && <option value="">{nothing}</option>}
        {options.map((option) => (
          <option key={option} value={option}>
            {typeof option === "number" ? `${100 * option} %` : option}
          </option>
        ))}
      </select>
    </Row>
  );
  const divides = columns
    .filter((column) => column.kind !== "measure" && column.kind !== "text")
    .map((c) => c.name);
  const subjects = columns.filter((column) => column.kind === "identifier").map((column) => column.name);
  return (
    <div className="grid gap-2">
      {pick("to", "Compare", TO)}
      {asked.to === "reference" && pick("reference", "Reference", levels, levels[0] ?? "the first")}
      {pick("level", "Interval", LEVELS)}
      {pick("adjusted", "p adjusted by", ADJUSTED)}
      {subjects.length > 0 && pick("paired_by", "Paired by", subjects, "not paired")}
      {asked.paired_by && pick("reduced", "Repeats", ["mean", "median"])}
      <Row name="Margin" id={`${id}margin`} help="A difference up to this counts as equivalent">
        <Field
          id={`${id}margin`}
          inputMode="decimal"
          placeholder="none"
          value={asked.margin === null ? "" : String(asked.margin)}
          onSettle={(text) => {
            const typed = typedNumber(text);
            if (text !== "" && (typed === null || typed <= 0)) return false;
            onChange({ margin: typed });
            return true;
          }}
          className={`number ${SELECT}`}
        />
      </Row>
      {pick("limits", "Ref. limits", LIMITS, "none")}
      {pick("runs", "Runs", divides, "no column")}
      <label htmlFor={`${id}together`} className="flex items-center gap-2">
        <input
          id={`${id}together`}
          type="checkbox"
          className="size-4 accent-petrol"
          checked={asked.together}
          onChange={(event) => onChange({ together: event.target.checked })}
        />
        Intervals hold together
      </label>
    </div>
  );
}

function Sizes(props: {
  data: Compared;
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
        className={`${SELECT} w-full font-bold`}
      >
        {names.map((name) => (
          <option key={name}>{name}</option>
        ))}
      </select>
      <ul className="mt-2 grid gap-2">
        {data.pairs.map((pair) => {
          const line = pair.estimates.find((one) => one.name === shown);
          const test = pair.tests.find((one) => one.p !== null);
          if (!line) return null;
          const value = line.value === null ? "–" : fixed(line.value, decimalsOf(line, places));
          return (
            <li key={pair.reference + pair.other} aria-label={`${pair.other} to ${pair.reference}`}>
              <p className="flex justify-between gap-2">
                <span className="truncate">
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
              {test && test.p !== null && (
                <p className="text-[12px] text-muted" title={testWords(test)}>
                  {test.name} {pWords(test.p_adjusted ?? test.p)}
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

function Evidence({ data }: { data: Compared }) {
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

function Laboratory(props: { data: Compared; places: number; onGuide: (band: [number, number]) => void }) {
  const { data, places, onGuide } = props;
  const { limits, components } = data;
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
