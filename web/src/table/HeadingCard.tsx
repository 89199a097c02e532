import { DropdownMenu } from "radix-ui";
import type { ColumnSummary } from "../api/generated";
import { Shape } from "../ui/Shape";
import { say, spaced } from "../words";
import type { Kind, StepName } from "./steps";

export const KIND_SIGNS: Record<Kind, string> = {
  measure: "∿",
  category: "☰",
  identifier: "№",
  date: "◷",
  "yes/no": "◐",
  text: "¶",
};
const KINDS = Object.keys(KIND_SIGNS) as Kind[];

export interface Sorting {
  column: string;
  down: boolean;
}

interface Props {
  column: ColumnSummary;
  rows: number;
  sort: Sorting | null;
  looking: boolean;
  onSort: (sort: Sorting | null) => void;
  onStep: (name: StepName, column: string) => void;
  onKind: (kind: Kind) => void;
  onCompare: () => void;
}

/** The head of a column: name and unit, kind, its distribution, what is missing; a menu of what can be done with it. */
export function HeadingCard({ column, rows, sort, looking, onSort, onStep, onKind, onCompare }: Props) {
  const sorted = sort?.column === column.name ? (sort.down ? "↓" : "↑") : "";
  const acts = actsFor(column);
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
          <Body column={column} rows={rows} />
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
            <DropdownMenu.Item className="menu-item font-bold text-petrol" onSelect={onCompare}>
              Compare this
            </DropdownMenu.Item>
          )}
          <DropdownMenu.Item className="menu-item" onSelect={() => onSort({ column: column.name, down: false })}>
            Show from low to high
          </DropdownMenu.Item>
          <DropdownMenu.Item className="menu-item" onSelect={() => onSort({ column: column.name, down: true })}>
            Show from high to low
          </DropdownMenu.Item>
          {sort && (
            <DropdownMenu.Item className="menu-item" onSelect={() => onSort(null)}>
              Show as in the file
            </DropdownMenu.Item>
          )}
          {!looking && (
            <>
              <DropdownMenu.Separator className="my-1 border-t border-hairline" />
              <DropdownMenu.Label className="px-3 text-[12px] text-muted">It is</DropdownMenu.Label>
              <DropdownMenu.RadioGroup value={column.kind} onValueChange={(kind) => onKind(kind as Kind)}>
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
              {acts.map(([name, words]) => (
                <DropdownMenu.Item key={name} className="menu-item" onSelect={() => onStep(name, column.name)}>
                  {words}…
                </DropdownMenu.Item>
              ))}
            </>
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

function actsFor(column: ColumnSummary): [StepName, string][] {
  const acts: [StepName, string][] = [
    ["rename", "Rename"],
    ["missing", "Treat as missing"],
    ["keep", "Keep rows by it"],
  ];
  if (column.kind === "measure") {
    acts.push(["unit", "Set the unit"], ["convert", "Convert the unit"], ["intervals", "Cut into intervals"]);
    acts.push(["relative", "Relative to its group"]);
    if (column.censored) acts.push(["stand-in", "Stand-ins for limits"]);
  } else if (column.kind === "date") acts.push(["date part", "Year, month, weekday"]);
  else if (column.kind !== "text")
    acts.push(["order", "Order levels"], ["labels", "Name levels"], ["join levels", "Join levels"]);
  return acts;
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
            <span className="number">{spaced(count)}</span>
          </span>
        </span>
      ))}
      {column.distinct > shown.length && (
        <span className="px-1 text-muted">+ {column.distinct - shown.length} more</span>
      )}
    </span>
  );
}
