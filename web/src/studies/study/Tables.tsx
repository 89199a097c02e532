import { useState } from "react";
import { Link } from "wouter";
import { answer, api } from "../../api/client";
import type { PatchedChangeTable, StudyComparison, StudyTable } from "../../api/generated";
import { changeWords } from "../../table/changeWords";
import { useTableChanges } from "../../table/useTableChanges";
import { Button } from "../../ui/Button";
import { Headings } from "../../ui/Headings";
import { Named } from "../../ui/Named";
import { Notes } from "../../ui/Notes";
import { tell } from "../../ui/Notices";
import { spaced } from "../../words";
import { dayOf } from "../days";
import type { PartProps } from "./parts";

/** The tables of a study, each with the versions before it and its notes. */
export function Tables({ study, changing, again }: PartProps) {
  if (study.tables.length === 0)
    return <p className="mt-6 text-muted">No table yet: bring one, paste cells or drop a file here.</p>;
  return (
    <section aria-label="Tables" className="mt-4">
      <table className="w-full text-left">
        <Headings names={["Table", "Rows", "Came in", "Brought by", "Comparisons", ""]} />
        {study.tables.map((table) => (
          <Table key={table.id} table={table} comparisons={study.comparisons} changing={changing} again={again} />
        ))}
      </table>
    </section>
  );
}

interface TableProps {
  table: StudyTable;
  comparisons: StudyComparison[];
  changing: boolean;
  again: () => Promise<unknown>;
}

function Table({ table, comparisons, changing, again }: TableProps) {
  const [open, setOpen] = useState(false);
  const params = { path: { table_id: table.id } };
  const change = async (body: PatchedChangeTable) => {
    await answer(api.PATCH("/api/tables/{table_id}", { params, body }));
    await again();
  };
  const erase = () => void answer(api.DELETE("/api/tables/{table_id}", { params })).then(again, tell);
  const versions = table.earlier.length + 1;
  return (
    <tbody className="border-b border-hairline/60">
      <tr>
        <td className="max-w-[26rem] py-1.5 pr-6 font-bold">
          <Named
            name={table.name}
            what="table"
            href={`/tables/${table.id}`}
            onName={changing ? (name) => change({ name }) : null}
          />
        </td>
        <td className="number py-1.5 pr-6">{spaced(table.rows)}</td>
        <td className="py-1.5 pr-6">{dayOf(table.made)}</td>
        <td className="py-1.5 pr-6">{table.by}</td>
        <td className="number py-1.5 pr-6">{table.comparisons}</td>
        <td className="py-1.5 text-right text-[13px] whitespace-nowrap">
          {(versions > 1 || table.comparisons > 0) && (
            <Button look="quiet" className="!p-0 !font-normal" aria-expanded={open} onClick={() => setOpen(!open)}>
              {open ? "Hide" : versions > 1 ? `${versions} versions` : "Drawn from it"}
            </Button>
          )}
          {changing && table.comparisons === 0 && table.earlier.length === 0 && (
            <Button
              look="quiet"
              className="ml-4 !p-0 !font-normal"
              aria-label={`Erase ${table.name}`}
              onClick={erase}
            >
              Erase
            </Button>
          )}
        </td>
      </tr>
      {open && (
        <tr className="text-[13px] text-muted">
          <td colSpan={6} className="py-1 pl-5">
            <DrawnFrom version={table.id} comparisons={comparisons} />
          </td>
        </tr>
      )}
      {open &&
        table.earlier.map((version, i) => (
          <tr key={version.id} className="text-[13px] text-muted">
            <td className="py-1 pr-6 pl-5">
              <Link href={`/tables/${version.id}`} className="hover:underline">
                replaced: {version.name}
              </Link>
              <WhatChanged table={i === 0 ? table.id : (table.earlier[i - 1]?.id ?? table.id)} />
              <DrawnFrom version={version.id} comparisons={comparisons} />
            </td>
            <td className="number py-1 pr-6">{spaced(version.rows)}</td>
            <td className="py-1 pr-6">{dayOf(version.made)}</td>
            <td className="py-1 pr-6">{version.by}</td>
            <td className="number py-1 pr-6">{version.comparisons}</td>
            <td />
          </tr>
        ))}
      {(table.notes || changing) && (
        <tr>
          <td colSpan={6} className="pb-2 text-[13px]">
            <Notes
              text={table.notes}
              what={`table ${table.name}`}
              onText={changing ? (notes) => change({ notes }) : null}
            />
          </td>
        </tr>
      )}
    </tbody>
  );
}

const MOST_NAMED = 8;

/** Which comparisons are drawn from a version. */
function DrawnFrom({ version, comparisons }: { version: string; comparisons: StudyComparison[] }) {
  const drawn = comparisons.filter((held) => held.table_id === version && held.shelf !== "bin");
  if (drawn.length === 0) return <span className="block">no comparison is drawn from it</span>;
  return (
    <span className="block">
      drawn from it:{" "}
      {drawn.slice(0, MOST_NAMED).map((held, i) => (
        <span key={held.id}>
          {i > 0 && ", "}
          <Link href={`/comparisons/${held.id}`} className="text-petrol hover:underline">
            {held.name}
          </Link>
        </span>
      ))}
      {drawn.length > MOST_NAMED && ` and ${drawn.length - MOST_NAMED} more`}
    </span>
  );
}

/** What the table that came after a version changed. */
function WhatChanged({ table }: { table: string }) {
  const { data, error } = useTableChanges(table);
  if (error) return <span className="block text-warn">{error.message}</span>;
  if (!data) return null;
  return <span className="block">after it: {changeWords(data).join(" · ") || "the same rows"}</span>;
}
