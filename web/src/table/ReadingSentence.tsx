import { DropdownMenu, Popover } from "radix-ui";
import type { ReactNode } from "react";
import type { Outcome, ReadingOptions, TableState } from "../api/generated";
import { Field } from "../ui/Field";
import { say, spaced } from "../words";
import { useOutcome, useReadAgain, useTable } from "./store/TableContext";

const DELIMITERS = {
  ",": "commas",
  ";": "semicolons",
  "\t": "tabs",
  "|": "bars",
  "^": "carets",
  "~": "tildes",
  " ": "blanks",
};
const FORMATS: Record<string, string> = {
  xlsx: "an XLSX workbook",
  ods: "an ODS workbook",
  xls: "an XLS workbook",
  parquet: "Parquet",
  arrow: "Arrow",
  json: "JSON",
};
const ENCODINGS: Record<NonNullable<ReadingOptions["encoding"]>, string> = {
  "utf-8": "UTF-8",
  "utf-16": "UTF-16",
  "windows-1252": "Windows-1252",
  "windows-1250": "Windows-1250",
  "windows-1251": "Windows-1251",
  "windows-1253": "Windows-1253",
  "windows-1254": "Windows-1254",
  "mac-roman": "Mac Roman",
  cp850: "DOS 850",
  "latin-9": "Latin-9",
  "shift-jis": "Shift JIS",
  gb18030: "GB 18030",
  big5: "Big5",
  "euc-kr": "EUC-KR",
  "koi8-r": "KOI8-R",
};

/** "Read samples.csv as commas with decimal point in UTF-8, names on line 1": each underlined word can be overruled. */
export function ReadingSentence() {
  const { table, looking } = useTable();
  const { outcome } = useOutcome();
  const onRead = useReadAgain();
  const { read } = table;
  const fixed = looking || table.newer !== null;
  return (
    <div className="flex shrink-0 flex-wrap items-baseline gap-x-6 gap-y-1 border-b border-hairline bg-sheet px-5 py-3">
      <p className="text-[17px] leading-8 text-muted">
        Read <strong className="text-ink">{table.name}</strong> as{" "}
        {read.delimiter !== null ? (
          <Word
            name="Cells apart by"
            value={DELIMITERS[read.delimiter as keyof typeof DELIMITERS] ?? `“${read.delimiter}”`}
            options={Object.entries(DELIMITERS)}
            fixed={fixed}
            onChoose={(delimiter) => onRead({ delimiter })}
          />
        ) : (
          <strong className="text-ink">{FORMATS[read.format] ?? read.format}</strong>
        )}
        {read.sheet !== null && (
          <>
            , sheet{" "}
            <Word
              name="Sheet"
              value={read.sheet}
              options={read.sheets.map((sheet) => [sheet, sheet])}
              fixed={fixed}
              onChoose={(sheet) => onRead({ sheet })}
            />
          </>
        )}{" "}
        with decimal{" "}
        <Word
          name="Decimal mark"
          value={read.decimal}
          options={[
            ["point", "point"],
            ["comma", "comma"],
          ]}
          fixed={fixed}
          onChoose={(decimal) => onRead({ decimal: decimal as "point" | "comma" })}
        />
        {read.encoding !== null && (
          <>
            {" "}
            in{" "}
            <Word
              name="Encoding"
              value={read.encoding}
              options={Object.entries(ENCODINGS)}
              fixed={fixed}
              onChoose={(encoding) => onRead({ encoding: encoding as keyof typeof ENCODINGS })}
            />
          </>
        )}
        ,{" "}
        <HeadingWord
          row={read.header_row}
          of={read.sheet === null ? "line" : "row"}
          fixed={fixed}
          onRead={onRead}
        />
      </p>
      <Account table={table} outcome={outcome} />
    </div>
  );
}

interface WordProps {
  name: string;
  value: string;
  options: [string, string][];
  fixed: boolean;
  onChoose: (key: string) => void;
}

function Word({ name, value, options, fixed, onChoose }: WordProps) {
  if (fixed) return <strong className="text-ink">{value}</strong>;
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="word text-ink" aria-label={`${name}: ${value}`}>
        {value}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" sideOffset={6} className="menu">
          {options.map(([key, shown]) => (
            <DropdownMenu.Item key={key} onSelect={() => shown !== value && onChoose(key)} className="menu-item">
              <span className={shown === value ? "font-bold text-petrol" : ""}>{shown}</span>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

interface HeadingProps {
  row: number;
  of: string;
  fixed: boolean;
  onRead: (options: Partial<ReadingOptions>) => void;
}

function HeadingWord({ row, of, fixed, onRead }: HeadingProps) {
  const said: ReactNode = row ? `${of} ${row}` : "no line";
  if (fixed) return <>names on {said}</>;
  return (
    <>
      names on{" "}
      <Popover.Root>
        <Popover.Trigger className="word text-ink" aria-label={`Names on ${said}`}>
          {said}
        </Popover.Trigger>
        <Popover.Portal>
          <Popover.Content align="start" sideOffset={6} className="z-30 w-64 rounded-lg bg-sheet p-4 shadow-float">
            <label htmlFor="header-row" className="flex items-center gap-2">
              The names stand on {of}
              <Field
                id="header-row"
                value={String(row)}
                inputMode="numeric"
                className="input number w-16"
                onSettle={(text) => {
                  if (!/^\d{1,7}$/.test(text)) return false;
                  onRead({ header_row: Number(text) });
                  return true;
                }}
              />
            </label>
            <p className="mt-2 text-[13px] text-muted">Counted from 1, blank ones too. 0: there are no names.</p>
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
    </>
  );
}

function Account({ table, outcome }: { table: TableState; outcome: Outcome }) {
  const repeated = outcome.columns.find(
    (c) => c.kind === "identifier" && c.distinct > 1 && c.distinct < outcome.rows,
  );
  return (
    <p className="ml-auto text-[13px] text-muted" data-testid="account">
      <strong className="text-ink">{spaced(outcome.rows)}</strong> of {say("count-rows", { count: table.rows })} ·{" "}
      {say("count-columns", { count: outcome.columns.length })}
      {repeated && ` · ${spaced(repeated.distinct)} × ${repeated.name}`}
    </p>
  );
}
