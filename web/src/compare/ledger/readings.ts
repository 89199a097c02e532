import type { LaneReadings, Recipe, Scene } from "../../api/generated";
import { withOwnMark } from "../../ui/decimalMark";
import { say } from "../../words";

export type ReadingName = Recipe["ledger"]["readings"][number];

/** The width of a digit beside the lanes, in CSS pixels. */
const DIGIT = 7.3;

export interface Reading {
  name: string;
  /** Its column's width in CSS pixels, where it stands beside the lanes. */
  wide: number;
  show: (lane: LaneReadings, places: number) => string;
  full: (lane: LaneReadings) => string;
  /** What lanes are sorted by. */
  by: (lane: LaneReadings) => number | null;
}

/** A number with so many decimals; very large and very small ones with three digits. Files hold the same text, but for the
 * decimal mark: here it is the reader's own. */
export function fixed(value: number | null, places: number): string {
  if (value === null) return "–";
  const large = value !== 0 && (Math.abs(value) >= 1e7 || Math.abs(value) < 10 ** (-places - 2));
  const text = large ? value.toPrecision(3) : value.toFixed(places);
  return withOwnMark((Number(text) === 0 ? text.replace("-", "") : text).replaceAll("-", "−"));
}

function full(...values: (number | null)[]): string {
  return values.map((value) => value ?? "–").join("  ");
}

function nameOf(reading: ReadingName): string {
  return say("reading-name", { reading: reading.replaceAll(" ", "-") });
}

function single(reading: ReadingName, by: (lane: LaneReadings) => number | null, wide = 52): Reading {
  return { name: nameOf(reading), wide, show: (l, p) => fixed(by(l), p), full: (l) => full(by(l)), by };
}

function count(reading: ReadingName, by: (lane: LaneReadings) => number, wide = 50): Reading {
  return { name: nameOf(reading), wide, show: (l) => String(by(l)), full: (l) => String(by(l)), by };
}

function pair(
  reading: ReadingName,
  low: (l: LaneReadings) => number | null,
  high: (l: LaneReadings) => number | null,
): Reading {
  const show = (l: LaneReadings, p: number) =>
    low(l) === null && high(l) === null
      ? "–"
      : `${fixed(low(l), p)} ${(low(l) ?? 0) < 0 ? "to" : "–"} ${fixed(high(l), p)}`;
  return { name: nameOf(reading), wide: 92, show, full: (l) => full(low(l), high(l)), by: low };
}

/** Two decimals, whatever the data's precision: a share or a shape has no unit. */
function shape(reading: ReadingName, by: (lane: LaneReadings) => number | null): Reading {
  return { ...single(reading, by, 66), show: (l) => fixed(by(l), 2) };
}

/** A reading of several columns, each with a name of its own. */
function several(reading: ReadingName): Reading {
  return { name: nameOf(reading), wide: 0, show: () => "", full: () => "", by: () => null };
}

function variation(lane: LaneReadings): number | null {
  return lane.sd === null || !lane.mean || lane.mean < 0 ? null : (100 * lane.sd) / lane.mean;
}

export const READINGS: Record<ReadingName, Reading> = {
  n: count("n", (l) => l.n),
  missing: count("missing", (l) => l.missing, 56),
  "beyond a limit": count("beyond a limit", (l) => l.censored, 60),
  median: single("median", (l) => l.median),
  quartiles: pair(
    "quartiles",
    (l) => l.q1,
    (l) => l.q3,
  ),
  range: pair(
    "range",
    (l) => l.min,
    (l) => l.max,
  ),
  IQR: single("IQR", (l) => l.iqr),
  "mean and SD": {
    name: nameOf("mean and SD"),
    wide: 92,
    show: (l, p) => (l.sd === null ? fixed(l.mean, p) : `${fixed(l.mean, p)} ± ${fixed(l.sd, p)}`),
    full: (l) => full(l.mean, l.sd),
    by: (l) => l.mean,
  },
  SE: { ...single("SE", (l) => l.se), show: (l, p) => fixed(l.se, p + 1) },
  CV: { ...single("CV", variation), show: (l) => fixed(variation(l), 1) },
  skewness: shape("skewness", (l) => l.skewness),
  kurtosis: shape("kurtosis", (l) => l.kurtosis),
  whiskers: pair(
    "whiskers",
    (l) => l.whisker_low,
    (l) => l.whisker_high,
  ),
  fences: pair(
    "fences",
    (l) => l.fence_low,
    (l) => l.fence_high,
  ),
  beyond: {
    name: nameOf("beyond"),
    wide: 52,
    show: (l) => String(l.beyond),
    full: (l) => say("reading-beyond", { count: l.beyond }),
    by: (l) => l.beyond,
  },
  // One column for each guide, where the figure has some.
  "in guides": several("in guides"),
  // One for each line with a slope, and for each value whose share is asked for.
  slope: several("slope"),
  shares: several("shares"),
};

export const READING_NAMES = Object.keys(READINGS) as ReadingName[];

/** Decimals for reading: as the data are written, one more where they are whole, and no more than four digits in all. */
export function placesOf(scene: Scene): number {
  const largest = Math.max(...scene.readings.map((lane) => Math.max(Math.abs(lane.mean ?? 0), lane.sd ?? 0)), 0);
  const room = largest > 0 ? 3 - Math.floor(Math.log10(largest)) : 3;
  return Math.max(0, Math.min(scene.decimals || 1, room, 3));
}

const OF_COUNTS: ReadingName[] = ["n", "missing", "shares"];

/** The chosen readings, and after them the differences to the reference lane where one is chosen. */
export function readingsOf(scene: Scene, ledger: Recipe["ledger"]): Reading[] {
  // A column without numbers is counted alone.
  const counted = scene.readings.every(({ n, median, mean }) => n === 0 || (median === null && mean === null));
  const asked = counted ? ledger.readings.filter((name) => OF_COUNTS.includes(name)) : ledger.readings;
  const shown = asked.flatMap((name) => {
    if (name === "in guides") return held(scene);
    return name === "slope" || name === "shares" ? named(scene, name) : [READINGS[name]];
  });
  const chosen = (shown.length ? shown : [READINGS.n]).map((reading) => roomy(reading, scene));
  const { reference } = ledger;
  const known = scene.readings.some((lane) => lane.group === reference);
  if (reference === null || !known) return chosen;
  return [
    ...chosen,
    difference(scene, reference, say("reading-difference", { centre: "median" }), (l) => l.median),
    difference(scene, reference, say("reading-difference", { centre: "mean" }), (l) => l.mean),
  ];
}

/** How many values of each lane a guide holds, and their share: a column for each guide's name. */
function held(scene: Scene): Reading[] {
  const names = [...new Set(scene.readings.flatMap((lane) => lane.inside.map(({ name }) => name)))];
  return names.map((name) => {
    const of = (lane: LaneReadings) => lane.inside.find((guide) => guide.name === name);
    const show = (lane: LaneReadings) => {
      const inside = of(lane);
      return inside ? `${inside.count} · ${(100 * inside.share).toFixed(0)} %` : "–";
    };
    const full = (lane: LaneReadings) =>
      `${name}: ${of(lane)?.count ?? "–"} of ${lane.n} values, ${of(lane)?.share ?? "–"}`;
    return { name, wide: 66, show, full, by: (lane) => of(lane)?.share ?? null };
  });
}

/** Slopes, or shares of values: a column for each name. */
function named(scene: Scene, reading: "slope" | "shares"): Reading[] {
  const own = scene.readings.flatMap((lane) => lane.named.filter((entry) => entry.reading === reading));
  return [...new Set(own.map(({ name }) => name))].map((name) => {
    const of = (lane: LaneReadings) => lane.named.find((entry) => entry.name === name);
    const full = (lane: LaneReadings) => {
      const entry = of(lane);
      return entry ? `${name}: ${entry.value} (${entry.low} to ${entry.high})` : `${name}: –`;
    };
    return { name, wide: 92, show: (lane) => of(lane)?.text ?? "–", full, by: (lane) => of(lane)?.value ?? null };
  });
}

/** Wide enough for its longest number. */
function roomy(reading: Reading, scene: Scene): Reading {
  const longest = Math.max(0, ...scene.readings.map((lane) => reading.show(lane, scene.decimals).length));
  return { ...reading, wide: Math.max(reading.wide, Math.ceil(longest * DIGIT)) };
}

function difference(
  scene: Scene,
  reference: string,
  name: string,
  of: (lane: LaneReadings) => number | null,
): Reading {
  const panels = new Map(scene.lanes.map((lane) => [lane.key, lane.panel]));
  const by = (lane: LaneReadings) => {
    const against = scene.readings.find(
      (other) =>
        other.group === reference &&
        other.subgroup === lane.subgroup &&
        panels.get(other.lane) === panels.get(lane.lane),
    );
    const [here, there] = [of(lane), against ? of(against) : null];
    return here === null || there === null || against?.lane === lane.lane ? null : here - there;
  };
  const show = (l: LaneReadings, p: number) => {
    const size = by(l);
    if (l.group === reference) return say("reading-reference");
    return size === null ? "–" : `${size > 0 ? "+" : ""}${fixed(size, p)}`;
  };
  return { name, wide: 62, show, full: (l) => `${name} to ${reference}: ${full(by(l))}`, by };
}

/** The levels of the groups sorted by a reading: of a group with several lanes by their mean. */
export function sortedBy(scene: Scene, reading: Reading, down: boolean): string[] {
  const sums = new Map<string, number[]>();
  for (const lane of scene.readings) {
    if (lane.group === null) continue;
    const value = reading.by(lane);
    const known = sums.get(lane.group) ?? [];
    sums.set(lane.group, value === null ? known : [...known, value]);
  }
  const mean = (values: number[]) =>
    values.length ? values.reduce((sum, value) => sum + value, 0) / values.length : Number.NaN;
  const levels = [...sums].map(([level, values]) => ({ level, at: mean(values) }));
  return levels
    .sort((a, b) => {
      if (Number.isNaN(a.at) || Number.isNaN(b.at)) return Number(Number.isNaN(a.at)) - Number(Number.isNaN(b.at));
      return down ? b.at - a.at : a.at - b.at;
    })
    .map(({ level }) => level);
}
