import type { Guide } from "../../api/generated";
import { typedNumbers } from "../../ui/numbers";

/** What a guide stands at: its name in the list, how many numbers it takes, and the guide that they make. */
export interface Kind {
  name: string;
  numbers: number;
  /** What its numbers are at first, where nothing is known. */
  usual: number[];
  help: string;
  make: (numbers: number[]) => Pick<Guide, "at" | "band"> | null;
}

const line = (at: Guide["at"]) => ({ at, band: null });
const band = (low: unknown, high: unknown) => ({ at: null, band: [low, high] as NonNullable<Guide["band"]> });

export const KINDS = {
  line: { name: "Line at", numbers: 1, usual: [0], help: "A number", make: ([at = 0]) => line(at) },
  band: {
    name: "Band from, to",
    numbers: 2,
    usual: [0, 1],
    help: "Two numbers with a semicolon between them",
    make: ([low = 0, high = 0]) => (low === high ? null : band(Math.min(low, high), Math.max(low, high))),
  },
  mean: { name: "Mean", numbers: 0, usual: [], help: "", make: () => line("mean") },
  median: { name: "Median", numbers: 0, usual: [], help: "", make: () => line("median") },
  percentile: {
    name: "Percentile",
    numbers: 1,
    usual: [95],
    help: "Above 0 and below 100",
    make: ([at = 0]) => (within(at) ? line({ percentile: at }) : null),
  },
  percentiles: {
    name: "Percentiles from, to",
    numbers: 2,
    usual: [2.5, 97.5],
    help: "Two numbers above 0 and below 100, with a semicolon between them",
    make: ([low = 0, high = 0]) =>
      within(low) && within(high) && low < high ? band({ percentile: low }, { percentile: high }) : null,
  },
  spread: {
    name: "Mean ± SD times",
    numbers: 1,
    usual: [2],
    help: "So many standard deviations to both sides of the mean",
    make: ([sds = 0]) => (sds > 0 && sds <= 20 ? band({ sds: -sds }, { sds }) : null),
  },
  away: {
    name: "SDs from the mean",
    numbers: 1,
    usual: [3],
    help: "A line so many standard deviations above the mean; negative lies below",
    make: ([sds = 0]) => (Math.abs(sds) <= 20 ? line({ sds }) : null),
  },
} satisfies Record<string, Kind>;

export type KindName = keyof typeof KINDS;
export const KIND_NAMES = Object.keys(KINDS) as KindName[];

/** What a guide at something computed is called, as long as nobody labels it otherwise; "" at numbers. */
export function usualLabel(guide: Guide): string {
  const { kind, numbers } = placeOf(guide);
  const whose = guide.own ? "" : guide.group ? ` of ${guide.group}` : " of all";
  switch (kind) {
    case "mean":
    case "median":
      return `${kind}${whose}`;
    case "percentile":
      return `percentile ${numbers[0]}${whose}`;
    case "percentiles":
      return `percentiles ${numbers.join(" to ")}${whose}`;
    case "spread":
      return `mean ± ${numbers[0]} SD${whose}`;
    case "away":
      return `mean ${(numbers[0] ?? 0) < 0 ? "−" : "+"} ${Math.abs(numbers[0] ?? 0)} SD${whose}`;
    default:
      return "";
  }
}

/** A guide after a change: a label that only said where it stood follows it. */
export function relabelled(before: Guide, after: Guide): Guide {
  return after.label === before.label && before.label === usualLabel(before)
    ? { ...after, label: usualLabel(after) }
    : after;
}

/** What a guide is, and its numbers. */
export function placeOf(guide: Guide): { kind: KindName; numbers: number[] } {
  const [low, high] = guide.band ?? [guide.at, null];
  if (low === "mean" || low === "median") return { kind: low, numbers: [] };
  if (typeof low === "number")
    return guide.band ? { kind: "band", numbers: guide.band as number[] } : { kind: "line", numbers: [low] };
  if (low && "percentile" in low) {
    const upper = high && typeof high === "object" && "percentile" in high ? high.percentile : null;
    return upper === null
      ? { kind: "percentile", numbers: [low.percentile] }
      : { kind: "percentiles", numbers: [low.percentile, upper] };
  }
  const sds = low && "sds" in low ? low.sds : 0;
  return guide.band ? { kind: "spread", numbers: [Math.abs(sds)] } : { kind: "away", numbers: [sds] };
}

/** Typed numbers for a kind; two numbers for a line make it a band, one for a band a line. Null for anything else. */
export function typedPlace(kind: KindName, text: string): Pick<Guide, "at" | "band"> | null {
  const numbers = typedNumbers(text) ?? [null];
  if (numbers.some((number) => number === null)) return null;
  const known = numbers as number[];
  const single = kind === "line" || kind === "band" ? (known.length === 1 ? "line" : "band") : kind;
  return known.length === KINDS[single].numbers ? KINDS[single].make(known) : null;
}

function within(percentile: number): boolean {
  return percentile > 0 && percentile < 100;
}
