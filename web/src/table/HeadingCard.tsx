import { DropdownMenu } from "radix-ui";
import type { ColumnSummary } from "../api/generated";
import { Shape } from "../ui/Shape";
import { say, spaced } from "../words";
import { beginStep, type Kind, stepsFor } from "./steps";
import {
  useCompare,
  useOutcome,
  useSorting,
  useStepContext,
  useTable,
  useTableActions,
} from "./store/TableContext";

const KIND_SIGNS: Record<Kind, string> = {
  measure: "∿",
  category: "☰",
  identifier: "№",
  date: "◷",
  "yes/no": "◐",
  text: "¶",
};
const KINDS = Object.keys(KIND_SIGNS) as Kind[];

/** The head of a column: name and unit, kind, its distribution, what is missing; a menu of what can be done with it. */
export function HeadingCard({ column }: { column: ColumnSummary }) {
  const { looking } = useTable();
  const { begin, sortBy } = useTableActions();
  const { outcome } = useOutcome();
  const context = useStepContext();
  const sort = useSorting();
  const setKind = useSetKind(column);
  const compare = useCompare();
  const sorted = sort?.column === column.name ? (sort.down ? "↓" : "↑") : "";
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label={`${column.name}, ${column.kind}`}
        className="flex h-full w-full flex-col items-stretch overflow-hidden px-3 py-2 text-left hover:bg-bench/60"
      >
        <span className="truncate">
          <strong>{column.name}</strong>{" "}
          <span className="text-[12.5px] text-muted">{column.unit ?? (column.ordered ? "ordered" : "")}</span>{" "}
          <span className="text-petrol">{sorted}</span>
        </span>
        <span className="truncate text-[12.5px] text-muted">
          <span aria-hidden="true">{KIND_SIGNS[column.kind]}</span> {column.kind}
        </span>
        <span className="mt-1 h-[50px] overflow-hidden">
          <Body column={column} rows={outcome.rows} />
        </span>
        <span className="truncate text-[12.5px] text-muted">
          {column.missing > 0 && <strong className="text-warn">{spaced(column.missing)} missing</strong>}
          {column.missing > 0 && column.censored > 0 && " · "}
          {column.censored > 0 && (
            <strong className="text-petrol">{say("count-limits", { count: column.censored })}</strong>
          )}
        </span>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" sideOffset={2} className="menu">
          {!looking && (
            <DropdownMenu.Item className="menu-item font-bold text-petrol" onSelect={() => compare(column)}>
              Compare this
            </DropdownMenu.Item>
          )}
          <DropdownMenu.Item className="menu-item" onSelect={() => sortBy({ column: column.name, down: false })}>
            Show from low to high
          </DropdownMenu.Item>
          <DropdownMenu.Item className="menu-item" onSelect={() => sortBy({ column: column.name, down: true })}>
            Show from high to low
          </DropdownMenu.Item>
          {sort && (
            <DropdownMenu.Item className="menu-item" onSelect={() => sortBy(null)}>
              Show as in the file
            </DropdownMenu.Item>
          )}
          {!looking && (
            <>
              <DropdownMenu.Separator className="my-1 border-t border-hairline" />
              <DropdownMenu.Label className="px-3 text-[12px] text-muted">It is</DropdownMenu.Label>
              <DropdownMenu.RadioGroup value={column.kind} onValueChange={(kind) => setKind(kind as Kind)}>
                <div className="grid grid-cols-2">
                  {KINDS.map((kind) => (
                    <DropdownMenu.RadioItem key={kind} value={kind} className="menu-item">
                      <span aria-hidden="true" className="text-muted">
                        {KIND_SIGNS[kind]}
                      </span>
                      <span className={kind === column.kind ? "font-bold text-petrol" : ""}>{kind}</span>
                    </DropdownMenu.RadioItem>
                  ))}
                </div>
              </DropdownMenu.RadioGroup>
              <DropdownMenu.Separator className="my-1 border-t border-hairline" />
              {stepsFor(column).map(({ step, title }) => (
                <DropdownMenu.Item
                  key={step}
                  className="menu-item"
                  onSelect={() => begin(beginStep(step, context, column.name))}
                >
                  {title}…
                </DropdownMenu.Item>
              ))}
            </>
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** Make a column another kind, by the decimal mark that the file was read with. */
function useSetKind({ name, kind: now }: ColumnSummary): (kind: Kind) => void {
  const { table } = useTable();
  const { settle } = useTableActions();
  const { settled } = useOutcome();
  return (kind) => {
    if (kind === now) return;
    const { decimal } = table.read;
    void settle([...settled, { step: "kind", on: true, column: name, kind, decimal, dates: null }]);
  };
}

function Body({ column, rows }: { column: ColumnSummary; rows: number }) {
  if (column.kind === "measure") return <Shape column={column} wide={116} high={46} />;
  if (column.levels.length) return <LevelBars column={column} />;
  const each = column.distinct ? rows / column.distinct : 0;
  return (
    <>
      <span className="number block text-[19px] leading-7">{spaced(column.distinct)}</span>
      <span className="block truncate text-[12px] text-muted">
        distinct{each > 1 && Number.isInteger(each) ? `, ${spaced(each)} rows each` : ""}
      </span>
    </>
  );
}

/** The first levels as bars with their rows. */
function LevelBars({ column }: { column: ColumnSummary }) {
  const most = Math.max(1, ...column.levels.map((level) => level.count));
  const shown = column.levels.slice(0, column.levels.length > 3 ? 2 : 3);
  return (
    <span className="block text-[11.5px] leading-[16px]">
      {shown.map(({ level, count }) => (
        <span key={level} className="relative mb-px block h-[16px] overflow-hidden bg-bench">
          <svg className="absolute inset-0 h-full w-full" aria-hidden="true">
            <rect width={`${(100 * count) / most}%`} height="100%" className="fill-petrol/20" />
          </svg>
          <span className="relative flex justify-between gap-1 px-1">
            <span className="truncate">{level}</span>
            <span className="number shrink-0 whitespace-nowrap">{spaced(count)}</span>
          </span>
        </span>
      ))}
      {column.distinct > shown.length && (
        <span className="px-1 text-muted">+ {column.distinct - shown.length} more</span>
      )}
    </span>
  );
}
