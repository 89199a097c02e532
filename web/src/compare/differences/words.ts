import type { EstimateLine, TestLine } from "../../api/generated";
import { withOwnMark } from "../../ui/decimalMark";
import { fixed } from "../ledger/readings";

/** Estimates without the measure's unit. */
const FREE = ["ratio", "Hedges", "superiority", "delta"];

/** Decimals of an estimate: as the data are read and one more, or two where it has no unit. */
export function decimalsOf(line: EstimateLine, places: number): number {
  return FREE.some((word) => line.name.includes(word)) ? 2 : places + 1;
}

/** What an estimate is when nothing differs. */
export function nothingDiffers(name: string): number {
  return name.includes("ratio") ? 1 : name.includes("superiority") ? 0.5 : 0;
}

/** The test that asks about what an estimate measures. */
export function testOf(estimate: string): string {
  if (estimate.includes("paired")) return estimate.includes("median") ? "Wilcoxon signed rank" : "paired t";
  if (estimate.includes("SDs") || estimate.includes("IQRs")) return "Brown–Forsythe";
  const byOrder = ["median", "percentile", "Hodges", "superiority", "delta"];
  return byOrder.some((word) => estimate.includes(word)) ? "Mann–Whitney" : "Welch t";
}

/** A p-value to a journal's precision. */
export function pWords(p: number): string {
  if (p < 0.001) return withOwnMark("p < 0.001");
  if (p >= 0.995) return withOwnMark("p > 0.99");
  return withOwnMark(`p = ${p.toFixed(p < 0.01 ? 3 : 2)}`);
}

/** Statistic, degrees of freedom and n of a test. */
export function testWords(line: TestLine): string {
  if (line.p === null || line.statistic === null) return line.remark;
  const df = line.df.length ? `, df ${line.df.map((value) => Number(value.toPrecision(4))).join(" and ")}` : "";
  const rest = line.remark ? `; ${line.remark}` : "";
  const numbers = withOwnMark(`${Number(line.statistic.toPrecision(4))}${df}`.replaceAll("-", "−"));
  return `${numbers}, ${line.exact ? "exact" : "approximate"}, n = ${line.n.join(" and ")}${rest}`;
}

/** An interval, or the reason why there is none. */
export function intervalWords(line: EstimateLine, places: number): string {
  if (line.low === null || line.high === null) return line.remark || "no interval";
  const decimals = decimalsOf(line, places);
  return `${fixed(line.low, decimals)} to ${fixed(line.high, decimals)}`;
}
