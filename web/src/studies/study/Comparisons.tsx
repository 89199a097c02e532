import { useWindowVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useMemo, useRef, useState } from "react";
import type { StudyComparison } from "../../api/generated";
import { Button } from "../../ui/Button";
import { CARD, ComparisonCard, ComparisonLine, LINE } from "./ComparisonCard";
import {
  type Filters,
  fits,
  KINDS,
  MARKS,
  type Mark,
  NO_FILTERS,
  type Shelf,
  SORTS,
  type Sort,
  valuesOf,
} from "./filters";
import type { PartProps } from "./parts";
import { TogetherBar } from "./TogetherBar";

const SHELVES: { shelf: Shelf; name: string; none: string }[] = [
  { shelf: "open", name: "In work", none: "No comparison yet: bring a table, and its first figure opens." },
  { shelf: "archive", name: "Archive", none: "Nothing is archived: what is done with can be put here." },
  { shelf: "bin", name: "Bin", none: "The bin is empty." },
];
const NARROWEST = 236;
const GAP = 16;

/** All comparisons: searched, filtered, sorted, chosen; only those in sight are drawn. */
export function Comparisons({ study, changing, again }: PartProps) {
  const [shelf, setShelf] = useState<Shelf>("open");
  const [filters, setFilters] = useState<Filters>(NO_FILTERS);
  const [sort, setSort] = useState<Sort>("changed last");
  const [lines, setLines] = useState(false);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const here = useMemo(
    () => study.comparisons.filter((comparison) => comparison.shelf === shelf),
    [study.comparisons, shelf],
  );
  const shown = useMemo(() => here.filter((held) => fits(held, filters)).sort(SORTS[sort]), [here, filters, sort]);
  const none = SHELVES.find((entry) => entry.shelf === shelf)?.none ?? "";
  const picked = shown.filter((held) => chosen.has(held.id));
  const choose = (id: string, on: boolean) => {
    const next = new Set(chosen);
    if (on) next.add(id);
    else next.delete(id);
    setChosen(next);
  };
  return (
    <section aria-label="Comparisons" className="mt-4">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <fieldset aria-label="Shelves" className="flex gap-3">
          {SHELVES.map((entry) => (
            <button
              key={entry.shelf}
              type="button"
              aria-pressed={entry.shelf === shelf}
              onClick={() => {
                setShelf(entry.shelf);
                setChosen(new Set());
              }}
              className="rounded px-2 py-1 text-muted aria-pressed:bg-sheet aria-pressed:font-bold aria-pressed:text-ink"
            >
              {entry.name}{" "}
              <span className="text-sm font-normal">
                {study.comparisons.filter((comparison) => comparison.shelf === entry.shelf).length}
              </span>
            </button>
          ))}
        </fieldset>
        <input
          type="search"
          aria-label="Search comparisons"
          placeholder="Search names, columns, tables, people, tags"
          value={filters.words}
          onChange={(event) => setFilters({ ...filters, words: event.target.value })}
          className="ml-auto w-72 rounded border border-hairline bg-sheet px-3 py-1.5"
        />
        <select
          aria-label="Order of comparisons"
          value={sort}
          onChange={(event) => setSort(event.target.value as Sort)}
          className="rounded border border-hairline bg-sheet px-2 py-1.5"
        >
          {Object.keys(SORTS).map((name) => (
            <option key={name}>{name}</option>
          ))}
        </select>
        <Button look="quiet" className="!px-0" aria-pressed={lines} onClick={() => setLines(!lines)}>
          {lines ? "As figures" : "As a list"}
        </Button>
      </div>
      <FilterRow comparisons={here} filters={filters} onFilters={setFilters} />
      {shelf === "bin" && here.length > 0 && (
        <p className="mt-2 text-sm text-muted">
          What lies here for {study.bin_days} {study.bin_days === 1 ? "day" : "days"} is erased for good.
        </p>
      )}
      {changing && shown.length > 0 && (
        <TogetherBar
          study={study}
          shelf={shelf}
          picked={picked}
          of={shown.length}
          onAll={(all) => setChosen(new Set(all ? shown.map((held) => held.id) : []))}
          again={again}
        />
      )}
      {shown.length === 0 && (
        <p className="mt-6 text-muted">
          {here.length === 0
            ? none
            : filters.words
              ? `Nothing here has “${filters.words}” in it.`
              : "Nothing here is as asked for."}
        </p>
      )}
      <Virtual
        comparisons={shown}
        lines={lines}
        draw={(held) => {
          const props = { comparison: held, changing, again, chosen: chosen.has(held.id), onChosen: choose };
          return lines ? <ComparisonLine key={held.id} {...props} /> : <ComparisonCard key={held.id} {...props} />;
        }}
      />
    </section>
  );
}

interface FilterProps {
  comparisons: StudyComparison[];
  filters: Filters;
  onFilters: (filters: Filters) => void;
}

/** One value of each kind there is more than one of; what comparisons are; tags. Nothing where there is nothing to choose. */
function FilterRow({ comparisons, filters, onFilters }: FilterProps) {
  const kinds = KINDS.map(([kind, name]) => ({ kind, name, values: valuesOf(comparisons, kind) }));
  const marks = (Object.keys(MARKS) as Mark[]).filter((mark) => comparisons.some(MARKS[mark]));
  const tags = [...new Set(comparisons.flatMap((held) => held.tags))].sort();
  const set = Object.values(filters.only).some(Boolean) || filters.marks.length > 0 || filters.tag !== null;
  const toggle = (mark: Mark) =>
    filters.marks.includes(mark) ? filters.marks.filter((other) => other !== mark) : [...filters.marks, mark];
  return (
    <div className="mt-2 flex flex-wrap items-center gap-x-3 gap-y-1.5 text-[13px]">
      {kinds
        .filter(({ values }) => values.length > 0)
        .map(({ kind, name, values }) => (
          <select
            key={kind}
            aria-label={`Only of one ${name}`}
            value={filters.only[kind] ?? ""}
            onChange={(event) => {
              const { [kind]: _, ...others } = filters.only;
              const only = event.target.value ? { ...others, [kind]: event.target.value } : others;
              onFilters({ ...filters, only });
            }}
            className="max-w-[13rem] rounded border border-hairline bg-sheet px-1.5 py-0.5"
          >
            <option value="">any {name}</option>
            {values.map((value) => (
              <option key={value}>{value}</option>
            ))}
          </select>
        ))}
      {marks.map((mark) => (
        <button
          key={mark}
          type="button"
          aria-pressed={filters.marks.includes(mark)}
          onClick={() => onFilters({ ...filters, marks: toggle(mark) })}
          className="rounded-full border border-hairline px-2.5 py-0.5 aria-pressed:border-petrol aria-pressed:bg-petrol aria-pressed:text-sheet"
        >
          {mark}
        </button>
      ))}
      {tags.map((tag) => (
        <button
          key={`tag ${tag}`}
          type="button"
          aria-pressed={filters.tag === tag}
          onClick={() => onFilters({ ...filters, tag: filters.tag === tag ? null : tag })}
          className="rounded bg-rail px-2 py-0.5 aria-pressed:bg-petrol aria-pressed:text-sheet"
        >
          {tag}
        </button>
      ))}
      {set && (
        <Button
          look="quiet"
          className="!p-0 text-[13px] !font-normal"
          onClick={() => onFilters({ ...NO_FILTERS, words: filters.words })}
        >
          Show all again
        </Button>
      )}
    </div>
  );
}

interface VirtualProps {
  comparisons: StudyComparison[];
  lines: boolean;
  draw: (comparison: StudyComparison) => React.ReactNode;
}

/** A list of any length, of which the rows in sight stand on the page. */
function Virtual({ comparisons, lines, draw }: VirtualProps) {
  const box = useRef<HTMLDivElement>(null);
  const [wide, setWide] = useState(1000);
  const [top, setTop] = useState(0);
  useEffect(() => {
    const element = box.current;
    if (!element) return;
    const measure = () => {
      setWide(element.clientWidth);
      setTop(element.getBoundingClientRect().top + window.scrollY);
    };
    const sized = new ResizeObserver(measure);
    sized.observe(element);
    // What stands above it may grow.
    sized.observe(document.body);
    return () => sized.disconnect();
  }, []);
  const across = lines ? 1 : Math.max(1, Math.floor((wide + GAP) / (NARROWEST + GAP)));
  const rows = useWindowVirtualizer({
    count: Math.ceil(comparisons.length / across),
    estimateSize: () => (lines ? LINE : CARD + GAP),
    scrollMargin: top,
    overscan: 3,
  });
  useEffect(() => rows.measure(), [lines, rows]);
  return (
    <div ref={box} className="relative mt-4" style={{ height: rows.getTotalSize() }} role="list">
      {rows.getVirtualItems().map((row) => (
        <div
          key={row.key}
          role="presentation"
          className="absolute inset-x-0 grid"
          style={{
            transform: `translateY(${row.start - top}px)`,
            gap: lines ? 0 : GAP,
            gridTemplateColumns: `repeat(${across}, minmax(0, 1fr))`,
          }}
        >
          {comparisons.slice(row.index * across, (row.index + 1) * across).map(draw)}
        </div>
      ))}
    </div>
  );
}
