import { useQuery } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import type { KeyPair, Keys, TableRef } from "../api/generated";
import { say } from "../words";
import type { StepContext, StepRecord } from "./steps";

interface Props {
  table: string;
  step: StepRecord;
  steps: StepRecord[];
  value: unknown;
  context: StepContext;
  onChange: (keys: KeyPair[]) => void;
}

/** Which columns of two tables must agree, and how their values overlap. */
export function KeysField({ table, step, steps, value, context, onChange }: Props) {
  const keys = value as KeyPair[];
  const ref = "table" in step ? (step.table as TableRef) : null;
  const link = context.tables.find((table) => table.reference.sha256 === ref?.sha256);
  const { data } = useQuery({
    queryKey: ["keys", table, steps, ref, keys],
    queryFn: () =>
      answer(
        api.POST("/api/tables/{table_id}/keys", {
          params: { path: { table_id: table } },
          body: { steps, table: ref as TableRef, keys },
        }),
      ),
    enabled: ref !== null && keys.every((pair) => pair.here && pair.there),
    retry: false,
  });
  const set = (place: number, pair: Partial<KeyPair>) =>
    onChange(keys.map((old, i) => (i === place ? { ...old, ...pair } : old)));
  return (
    <div>
      {keys.map((pair, place) => (
        <div key={place} className="mb-1 flex items-center gap-2">
          <select
            aria-label="Key here"
            className="input max-w-44"
            value={pair.here}
            onChange={(event) => set(place, { here: event.target.value })}
          >
            {context.columns.map((column) => (
              <option key={column.name}>{column.name}</option>
            ))}
          </select>
          =
          <select
            aria-label="Key there"
            className="input max-w-44"
            value={pair.there}
            onChange={(event) => set(place, { there: event.target.value })}
          >
            {link?.columns.map((name) => (
              <option key={name}>{name}</option>
            ))}
          </select>
          {keys.length > 1 && (
            <button
              type="button"
              aria-label="Remove this key"
              onClick={() => onChange(keys.filter((_, i) => i !== place))}
            >
              ✕
            </button>
          )}
        </div>
      ))}
      <button
        type="button"
        className="text-[13px] font-bold text-petrol"
        onClick={() => onChange([...keys, { here: context.columns[0]?.name ?? "", there: link?.columns[0] ?? "" }])}
      >
        + key
      </button>
      {data && <Overlap keys={data} there={link?.name ?? ""} />}
    </div>
  );
}

/** Two bars that overlap by the rows that match. */
function Overlap({ keys, there }: { keys: Keys; there: string }) {
  const all = Math.max(1, keys.matched + keys.unmatched + keys.unused);
  const share = (count: number) => `${(100 * count) / all}%`;
  return (
    <div className="mt-1.5 w-96 text-[12.5px]" data-testid="key-overlap">
      <svg width="100%" height="16" aria-hidden="true">
        <rect width={share(keys.unmatched + keys.matched)} height="9" className="fill-petrol/50" />
        <rect
          x={share(keys.unmatched)}
          y="6"
          width={share(keys.matched + keys.unused)}
          height="10"
          className="fill-accent/60"
        />
      </svg>
      <strong>{say("keys-matched", { count: keys.matched })}</strong>
      {keys.unmatched > 0 && (
        <span title={keys.unmatched_first.join(", ")}> · {keys.unmatched} here without a match</span>
      )}
      {keys.unused > 0 && (
        <span title={keys.unused_first.join(", ")}>
          {" "}
          · {say("count-rows", { count: keys.unused })} of {there} unused
        </span>
      )}
      {keys.most > 1 && <span className="text-warn"> · up to {keys.most} rows there behind one key</span>}
    </div>
  );
}
