import { DropdownMenu } from "radix-ui";
import { useEffect, useRef } from "react";
import type { Fault, Outcome } from "../api/generated";
import { spaced } from "../words";
import { NextStep } from "./NextStep";
import { type StepRecord, same } from "./steps";
import { useOutcome, useTable, useTableActions } from "./store/TableContext";

/** The preparation from the file to the rows in use: each step with the rows after it; the band narrows with the rows. */
export function Band() {
  const { table, looking } = useTable();
  const { settle, edit } = useTableActions();
  const { outcome, settled, draft } = useOutcome();
  const editing = draft?.at ?? null;
  const read = table.rows;
  const most = Math.max(read, ...outcome.steps.map((step) => step.rows ?? 0));
  const list = useRef<HTMLOListElement>(null);
  const count = outcome.steps.length;
  useEffect(() => {
    if (count) list.current?.scrollTo({ left: list.current.scrollWidth });
  }, [count]);
  let rows = read;
  return (
    <section
      aria-label="Preparation"
      className="flex shrink-0 items-center gap-3 border-b border-hairline bg-rail px-5 py-2.5"
    >
      <ol ref={list} className="flex min-w-0 overflow-x-auto">
        <Segment
          rows={read}
          from={read}
          most={most}
          title="As read"
          note={`${table.name} · ${written(table.size)}`}
          first
        />
        {outcome.steps.map((state, at) => {
          const from = rows;
          rows = state.rows ?? rows;
          const menu = (
            <StepMenu
              at={at}
              steps={settled}
              onEdit={() => edit(at)}
              onSettle={(steps) => void settle(steps)}
              label={`Step ${at + 1}: ${state.words}`}
            />
          );
          return (
            <Segment
              key={at}
              about={table.far !== null}
              rows={state.rows}
              from={from}
              most={most}
              title={state.words}
              note={state.note}
              off={!state.step.on}
              fault={at === stoppedAt(outcome) ? outcome.stopped : null}
              fresh={editing === at}
              menu={!looking && editing === null && same(settled[at], state.step) ? menu : null}
            />
          );
        })}
      </ol>
      {!looking && <NextStep />}
    </section>
  );
}

function stoppedAt(outcome: Outcome): number {
  return outcome.stopped ? outcome.steps.findIndex((step) => step.rows === null) : -1;
}

interface SegmentProps {
  rows: number | null;
  /** Whether the rows are estimated. */
  about?: boolean;
  from: number;
  most: number;
  title: string;
  note: string;
  first?: boolean;
  off?: boolean;
  fault?: Fault | null;
  fresh?: boolean;
  menu?: React.ReactNode;
}

const HIGH = 46;

function Segment({ rows, about, from, most, title, note, first, off, fault, fresh, menu }: SegmentProps) {
  const before = HIGH * (0.5 + (0.5 * from) / Math.max(most, 1));
  const after = HIGH * (0.5 + (0.5 * (rows ?? from)) / Math.max(most, 1));
  const [top, end] = [(HIGH - before) / 2, (HIGH - after) / 2];
  const shape = `0,${top} 16,${end} 100,${end} 100,${HIGH - end} 16,${HIGH - end} 0,${HIGH - top}`;
  const fill = rows === null ? "fill-hairline" : fresh ? "fill-accent/40" : "fill-petrol/15";
  return (
    <li className={`relative flex h-[46px] min-w-36 max-w-64 shrink-0 items-center ${first ? "" : "-ml-px"}`}>
      <svg
        viewBox={`0 0 100 ${HIGH}`}
        preserveAspectRatio="none"
        className={`absolute inset-0 h-full w-full ${fill}`}
        aria-hidden="true"
      >
        <polygon points={shape} />
      </svg>
      <span className={`relative flex min-w-0 items-center gap-3 py-1 pr-7 pl-4 ${off ? "opacity-50" : ""}`}>
        <span className="number shrink-0 text-[13px]">
          {rows === null ? "–" : (about ? "≈ " : "") + spaced(rows)}
        </span>
        <span className="min-w-0 leading-tight">
          <span className={`block truncate text-[13px] font-bold ${off ? "line-through" : ""}`} title={title}>
            {title}
          </span>
          {fault ? (
            <span className="block truncate text-[12px] text-warn" title={`${fault.what}. ${fault.remedy}`}>
              Stops here: {fault.what}
            </span>
          ) : (
            <span className="block truncate text-[12px] text-muted" title={note}>
              {rows === null ? "waits" : note}
            </span>
          )}
        </span>
      </span>
      {menu}
    </li>
  );
}

interface MenuProps {
  at: number;
  steps: StepRecord[];
  label: string;
  onEdit: () => void;
  onSettle: (steps: StepRecord[]) => void;
}

function StepMenu({ at, steps, label, onEdit, onSettle }: MenuProps) {
  const step = steps[at];
  if (!step) return null;
  const others = steps.filter((_, i) => i !== at);
  const moved = (to: number) => [...others.slice(0, to), step, ...others.slice(to)];
  const acts: [string, boolean, () => void][] = [
    ["Edit…", true, onEdit],
    ["Move earlier", at > 0, () => onSettle(moved(at - 1))],
    ["Move later", at < steps.length - 1, () => onSettle(moved(at + 1))],
    [
      step.on ? "Switch off" : "Switch on",
      true,
      () => onSettle(steps.map((s, i) => (i === at ? { ...s, on: !s.on } : s))),
    ],
    ["Remove", true, () => onSettle(others)],
  ];
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label={label}
        className="absolute inset-0 flex items-center justify-end pr-2 text-petrol"
      >
        <span aria-hidden="true">⋮</span>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" sideOffset={4} className="menu">
          {acts
            .filter(([, fits]) => fits)
            .map(([name, , act]) => (
              <DropdownMenu.Item key={name} onSelect={act} className="menu-item">
                {name}
              </DropdownMenu.Item>
            ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** Bytes as kB or MB. */
function written(size: number): string {
  return size < 1e6 ? `${Math.max(1, Math.round(size / 1e3))} kB` : `${(size / 1e6).toFixed(1)} MB`;
}
