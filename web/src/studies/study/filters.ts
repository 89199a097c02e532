import type { StudyComparison } from "../../api/generated";

export type Shelf = StudyComparison["shelf"];
type Key = "table" | "measure" | "groups" | "form" | "by";

/** What comparisons are looked for by: words, and one value of each kind. */
export interface Filters {
  words: string;
  only: Partial<Record<Key, string>>;
  /** Only those that are so. */
  marks: Mark[];
  tag: string | null;
}

export const NO_FILTERS: Filters = { words: "", only: {}, marks: [], tag: null };

export const MARKS = {
  "signed off": (held: StudyComparison) => held.locked,
  "drawn from older data": (held: StudyComparison) => held.older_data,
  watched: (held: StudyComparison) => held.watched,
  "broken by newer data": (held: StudyComparison) => held.alarm !== "",
  "with open remarks": (held: StudyComparison) => held.remarks > 0,
} as const;
export type Mark = keyof typeof MARKS;

export const KINDS: [Key, string][] = [
  ["table", "table"],
  ["measure", "measure"],
  ["groups", "groups"],
  ["form", "form"],
  ["by", "person"],
];

export const SORTS = {
  "changed last": (a: StudyComparison, b: StudyComparison) => b.changed.localeCompare(a.changed),
  "by name": (a: StudyComparison, b: StudyComparison) => inOrder(a.name, b.name),
  "by table": (a: StudyComparison, b: StudyComparison) => inOrder(a.table, b.table),
  "by measure": (a: StudyComparison, b: StudyComparison) => inOrder(a.measure, b.measure),
} as const;
export type Sort = keyof typeof SORTS;

const inOrder = (a: string, b: string) => a.localeCompare(b, "en", { numeric: true });

/** Whether a comparison has every word in it, and is as asked. */
export function fits(held: StudyComparison, { words, only, marks, tag }: Filters): boolean {
  const text = [held.name, held.measure, held.groups, held.table, held.by, held.notes, held.form, ...held.tags]
    .join(" ")
    .toLowerCase();
  return (
    words
      .toLowerCase()
      .split(/\s+/)
      .every((word) => text.includes(word)) &&
    KINDS.every(([kind]) => only[kind] === undefined || held[kind] === only[kind]) &&
    marks.every((mark) => MARKS[mark](held)) &&
    (tag === null || held.tags.includes(tag))
  );
}

/** The values of a kind among comparisons, each once, in order; none where there is nothing to choose. */
export function valuesOf(comparisons: StudyComparison[], kind: Key): string[] {
  const values = [...new Set(comparisons.map((held) => held[kind]))].filter(Boolean).sort(inOrder);
  return values.length > 1 ? values : [];
}
