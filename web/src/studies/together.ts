import type { QueryClient } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import type { components, Keys, TableState } from "../api/generated";
import type { StepRecord } from "../table/steps";
import { say } from "../words";

type TableLink = components["schemas"]["TableLink"];

/** One table beside another, where a column that names every row's subject stands in both. */
export interface JoinOffer {
  /** The table that keeps its rows, and the one whose columns come beside. */
  here: string;
  there: TableLink;
  column: string;
  words: string;
}

/** Steps put at the end of a table's preparation. */
async function takeSteps(client: QueryClient, id: string, steps: StepRecord[]): Promise<void> {
  const table = await tableOf(id);
  const settled = table.outcome.steps.map((state) => state.step);
  const body = { revision: table.newest, steps: [...settled, ...steps] };
  const next = await answer(
    api.POST("/api/tables/{table_id}/preparation", { params: { path: { table_id: id } }, body }),
  );
  // The bench may still be asking for the table as it was: that answer must not come after this one.
  await client.cancelQueries({ queryKey: ["table", id] });
  client.setQueryData(["table", id], next);
  await client.invalidateQueries({ queryKey: ["tables"] });
}

function tableOf(id: string): Promise<TableState> {
  return answer(api.GET("/api/tables/{table_id}", { params: { path: { table_id: id } } }));
}

function linksOf(study: string): Promise<TableLink[]> {
  return answer(api.GET("/api/studies/{study_id}/tables", { params: { path: { study_id: study } } }));
}

/** The rows of other tables under those of the first; a column says which file a row is from. */
export async function append(client: QueryClient, first: string, others: string[]): Promise<void> {
  const table = await tableOf(first);
  const links = await linksOf(table.study);
  const steps = others.flatMap((id) => {
    const link = links.find((link) => link.id === id);
    return link
      ? [{ step: "append" as const, on: true, table: link.reference, source: "file", here: table.name }]
      : [];
  });
  await takeSteps(client, first, steps);
}

/** The columns of another table beside these. */
export async function join(client: QueryClient, offer: JoinOffer): Promise<void> {
  const keys = [{ here: offer.column, there: offer.column }];
  await takeSteps(client, offer.here, [
    { step: "join" as const, on: true, table: offer.there.reference, keys, multiply: false },
  ]);
}

/** Whether two tables belong beside one another: an identifier in both that rows of one match once at most in the other. */
export async function joinOffer(first: string, second: string): Promise<JoinOffer | null> {
  const tables = await Promise.all([tableOf(first), tableOf(second)]);
  const links = await linksOf(tables[0].study);
  const names = tables.map((table) => table.outcome.columns.map((column) => column.name));
  // Alike in every column they are one table in parts.
  if (names[0]?.join("\n") === names[1]?.join("\n")) return null;
  const named = tables.flatMap((table) =>
    table.outcome.columns.filter((column) => column.kind === "identifier").map((column) => column.name),
  );
  const column = named.find((name) => names.every((own) => own.includes(name)));
  if (!column) return null;
  const ways = [
    [first, second],
    [second, first],
  ] as const;
  for (const [here, other] of ways) {
    const there = links.find((link) => link.id === other);
    if (!there) continue;
    const counts = await meeting(here, there, column);
    if (counts.matched > 0 && counts.most <= 1) {
      const rows = say("count-rows", { count: counts.matched });
      return {
        here,
        there,
        column,
        words: `${rows} find theirs in ${there.name} by ${column}, ${counts.unmatched} do not`,
      };
    }
  }
  return null;
}

function meeting(here: string, there: TableLink, column: string): Promise<Keys> {
  return answer(
    api.POST("/api/tables/{table_id}/keys", {
      params: { path: { table_id: here } },
      body: { steps: [], table: there.reference, keys: [{ here: column, there: column }] },
    }),
  );
}
