import { Link } from "wouter";
import { answer, api } from "../../api/client";
import type { StudyComparison } from "../../api/generated";
import { Miniature } from "../../scene/Miniature";
import { Button } from "../../ui/Button";
import { Named } from "../../ui/Named";
import { tell } from "../../ui/Notices";
import { dayOf } from "../days";
import type { Shelf } from "./filters";

/** How high a card and a line are, in CSS pixels. */
export const CARD = 286;
export const LINE = 40;

interface Props {
  comparison: StudyComparison;
  changing: boolean;
  chosen: boolean;
  onChosen: (id: string, on: boolean) => void;
  again: () => Promise<unknown>;
}

function useActs({ comparison, again }: Props) {
  const params = { path: { comparison_id: comparison.id } };
  return {
    rename: async (name: string) => {
      await answer(api.PATCH("/api/comparisons/{comparison_id}", { params, body: { name } }));
      await again();
    },
    put: (shelf: Shelf) =>
      void answer(api.PUT("/api/comparisons/{comparison_id}/shelf", { params, body: { shelf } })).then(again, tell),
    erase: () => void answer(api.DELETE("/api/comparisons/{comparison_id}", { params })).then(again, tell),
  };
}

/** What a comparison asks. */
function questionOf({ measure, groups }: StudyComparison): string {
  return groups ? `${measure} across ${groups}` : measure;
}

/** What stands out of a comparison, in few words. */
function marksOf(held: StudyComparison): string[] {
  const remarks = `${held.remarks} open ${held.remarks === 1 ? "remark" : "remarks"}`;
  return [
    held.alarm && "broken by newer data",
    held.locked && "signed off",
    held.older_data && "drawn from older data",
    held.watched && !held.alarm && "watched",
    held.remarks > 0 && remarks,
  ].filter((mark): mark is string => Boolean(mark));
}

/** A comparison with its figure. */
export function ComparisonCard(props: Props) {
  const { comparison, changing } = props;
  const { rename } = useActs(props);
  const marks = marksOf(comparison);
  return (
    <div
      role="listitem"
      style={{ height: CARD }}
      className={`group relative flex min-w-0 flex-col overflow-hidden rounded-lg bg-sheet shadow-sm ${props.chosen ? "outline-2 outline-petrol" : ""}`}
    >
      <Link href={`/comparisons/${comparison.id}`} aria-label={`Open ${comparison.name}`} className="block">
        <div className="grid h-[152px] place-items-center border-b border-hairline p-3" aria-hidden="true">
          <Miniature comparison={comparison.id} state={comparison.changed} scale={2} />
        </div>
      </Link>
      {changing && (
        <span
          className={`absolute top-2 left-2 grid rounded bg-sheet/90 p-0.5 focus-within:opacity-100 group-hover:opacity-100 ${props.chosen ? "" : "opacity-0"}`}
        >
          <Chooser {...props} />
        </span>
      )}
      <div className="flex min-h-0 flex-1 flex-col px-4 py-2.5">
        <div className="font-bold">
          <Named
            name={comparison.name}
            what="comparison"
            href={`/comparisons/${comparison.id}`}
            onName={changing && !comparison.locked ? rename : null}
          />
        </div>
        <p className="truncate text-sm text-muted" title={questionOf(comparison)}>
          {questionOf(comparison)}
        </p>
        <p className="truncate text-sm text-muted" title={`${comparison.table}, by ${comparison.by}`}>
          {dayOf(comparison.changed)} · {comparison.table}
        </p>
        {marks.length > 0 && (
          <p className="truncate text-[13px] font-bold text-warn" title={[comparison.alarm, ...marks].join(", ")}>
            {marks.join(" · ")}
          </p>
        )}
        <Tags tags={comparison.tags} />
        {changing && <Acts {...props} />}
      </div>
    </div>
  );
}

/** A comparison in one line. */
export function ComparisonLine(props: Props) {
  const { comparison, changing } = props;
  const { rename } = useActs(props);
  return (
    <div
      role="listitem"
      style={{ height: LINE }}
      className={`group grid grid-cols-[1.25rem_3rem_minmax(0,2fr)_minmax(0,2fr)_minmax(0,1.4fr)_minmax(0,1fr)_6.5rem_minmax(0,1.6fr)] items-center gap-3 border-b border-hairline/70 text-[13px] ${props.chosen ? "bg-sheet" : ""}`}
    >
      {changing ? <Chooser {...props} /> : <span />}
      <span aria-hidden="true" className="overflow-hidden rounded-sm bg-sheet">
        <Miniature comparison={comparison.id} state={comparison.changed} scale={0.5} />
      </span>
      <span className="min-w-0 font-bold">
        <Named
          name={comparison.name}
          what="comparison"
          href={`/comparisons/${comparison.id}`}
          onName={changing && !comparison.locked ? rename : null}
        />
      </span>
      <Cell text={questionOf(comparison)} />
      <Cell text={comparison.table} />
      <Cell text={comparison.by} />
      <span className="text-muted">{dayOf(comparison.changed)}</span>
      <span className="truncate" title={[...marksOf(comparison), ...comparison.tags].join(", ")}>
        <span className="font-bold text-warn">{marksOf(comparison).join(" · ")}</span> {comparison.tags.join(", ")}
      </span>
    </div>
  );
}

function Cell({ text }: { text: string }) {
  return (
    <span className="truncate text-muted" title={text}>
      {text}
    </span>
  );
}

function Chooser({ comparison, chosen, onChosen }: Props) {
  return (
    <input
      type="checkbox"
      aria-label={`Choose ${comparison.name}`}
      className="size-4 accent-petrol"
      checked={chosen}
      onChange={(event) => onChosen(comparison.id, event.target.checked)}
    />
  );
}

function Tags({ tags }: { tags: string[] }) {
  if (tags.length === 0) return null;
  return (
    <p className="flex gap-1.5 overflow-hidden text-[12px] whitespace-nowrap" title={tags.join(", ")}>
      {tags.map((tag) => (
        <span key={tag} className="rounded bg-rail px-1.5">
          {tag}
        </span>
      ))}
    </p>
  );
}

/** Where the comparison can be put. */
function Acts(props: Props) {
  const { comparison } = props;
  const { put, erase } = useActs(props);
  return (
    <p className="mt-auto flex gap-3 text-[13px]">
      {comparison.shelf === "open" ? (
        <>
          <Quiet name="Archive" of={comparison.name} run={() => put("archive")} />
          {!comparison.locked && <Quiet name="To the bin" of={comparison.name} run={() => put("bin")} />}
        </>
      ) : (
        <Quiet name="Take back" of={comparison.name} run={() => put("open")} />
      )}
      {comparison.shelf === "bin" && <Quiet name="Erase for good" of={comparison.name} run={erase} />}
    </p>
  );
}

function Quiet({ name, of, run }: { name: string; of: string; run: () => void }) {
  return (
    <Button look="quiet" className="!p-0 !font-normal" aria-label={`${name}: ${of}`} onClick={run}>
      {name}
    </Button>
  );
}
