import { DropdownMenu } from "radix-ui";
import { useState } from "react";
import { useLocation } from "wouter";
import { answer, api } from "../../api/client";
import type { Done, StudyComparison, StudyState, Together } from "../../api/generated";
import { useFormats } from "../../api/useFormats";
import { FileJobProgress } from "../../fileJobs/FileJobProgress";
import { useFileJob } from "../../fileJobs/useFileJob";
import { mayChange } from "../../roles";
import { Button } from "../../ui/Button";
import { FormatMenu } from "../../ui/FormatMenu";
import { tell, useNotices } from "../../ui/Notices";
import { TagForm } from "../../ui/TagForm";
import { useStudies } from "../useStudies";
import type { Shelf } from "./filters";

type Act = Together["act"];

/** So many are sent at once; as many go into one zip. */
const MOST = 200;

interface Props {
  study: StudyState;
  shelf: Shelf;
  picked: StudyComparison[];
  /** How many could be picked. */
  of: number;
  onAll: (all: boolean) => void;
  again: () => Promise<unknown>;
}

/** What is done with several comparisons at once. */
export function TogetherBar({ study, shelf, picked, of, onAll, again }: Props) {
  const [said, setSaid] = useState("");
  const { state, start, stop } = useFileJob();
  const formats = useFormats();
  const [, go] = useLocation();
  const others = useStudies().filter((other) => other.id !== study.id && mayChange(other.role));
  const ids = picked.map((held) => held.id);
  const act = async (act: Act, words: string, to = "") => {
    const params = { path: { study_id: study.id } };
    const all: Done = { done: 0, refused: [], to };
    for (let from = 0; from < ids.length; from += MOST) {
      const body = { comparisons: ids.slice(from, from + MOST), act, to: act === "folio" ? all.to : to };
      const made = await answer(api.POST("/api/studies/{study_id}/together", { params, body }));
      all.done += made.done;
      all.refused.push(...made.refused);
      all.to = made.to;
      setSaid(`${words}: ${all.done} of ${ids.length}`);
    }
    for (const fault of reasonsOf(all)) useNotices.getState().add(fault);
    await again();
    if (act === "folio" && all.done) go(`/folios/${all.to}`);
  };
  const run = (...asked: Parameters<typeof act>) => void act(...asked).catch(tell);
  const menu = formats.map(({ name, title }) => ({
    format: name,
    name: title,
    help: "each figure a file, in one zip",
  }));
  return (
    <div className="mt-3 flex min-h-9 flex-wrap items-center gap-x-4 gap-y-1 text-[13px]">
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="size-4 accent-petrol"
          checked={picked.length === of}
          onChange={(event) => onAll(event.target.checked)}
        />
        {picked.length === 0 ? `Choose all ${of}` : `${picked.length} of ${of} chosen`}
      </label>
      {picked.length > 0 && (
        <>
          {ids.length > MOST && <span className="text-muted">the first {MOST} are exported</span>}
          <FormatMenu
            name="Export"
            className="bg-accent font-bold text-ink hover:brightness-105"
            formats={[...menu, { format: "readings", name: "Numbers", help: "each figure's readings as CSV" }]}
            onChoose={(kind) =>
              void start({ what: "several", study: study.id, comparisons: ids.slice(0, MOST), kind })
            }
          />
          {shelf === "open" && (
            <>
              <Into
                name="Onto a folio"
                places={[...study.folios, { id: "", name: "a new folio" }]}
                onPlace={(id) => run("folio", "Set on the folio", id)}
              />
              <Quiet name="Take the newest style" run={() => run("newest style", "Drawn in the newest style")} />
              <Quiet name="Take newer data" run={() => run("newest data", "Drawn from the newest data")} />
            </>
          )}
          {others.length > 0 && (
            <Into
              name="Copy to a study"
              places={others}
              onPlace={(id) => run("copy", `Copied to ${others.find((other) => other.id === id)?.name}`, id)}
            />
          )}
          <TagForm
            label="Tag for those chosen"
            hint="Tag, in own words"
            name="Tag"
            onTag={(tag) => run("tag", `Tagged “${tag}”`, tag)}
          />
          {shelf === "open" ? (
            <>
              <Quiet name="Archive" run={() => run("archive", "Archived")} />
              <Quiet name="To the bin" run={() => run("bin", "In the bin")} />
            </>
          ) : (
            <Quiet name="Take back" run={() => run("open", "Taken back")} />
          )}
        </>
      )}
      <span role="status" className="text-muted">
        {said}
      </span>
      {state && (
        <span className="w-72">
          <FileJobProgress state={state} onStop={stop} />
        </span>
      )}
    </div>
  );
}

/** Why it was not done with some: a notice for each reason, naming whom it concerns. */
function reasonsOf({ refused }: Done) {
  const reasons = new Map<string, { names: string[]; fault: Done["refused"][number]["fault"] }>();
  for (const { name, fault } of refused) {
    const held = reasons.get(fault.what) ?? { names: [], fault };
    held.names.push(name);
    reasons.set(fault.what, held);
  }
  return [...reasons.values()].map(({ names, fault }) => ({
    ...fault,
    where: names.length > 3 ? `${names.slice(0, 3).join(", ")} and ${names.length - 3} more` : names.join(", "),
  }));
}

function Quiet({ name, run }: { name: string; run: () => void }) {
  return (
    <Button look="quiet" className="!p-0" onClick={run}>
      {name}
    </Button>
  );
}

function Into(props: { name: string; places: { id: string; name: string }[]; onPlace: (id: string) => void }) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="font-bold text-petrol hover:underline">{props.name} ▾</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" className="menu max-h-[60vh] overflow-y-auto text-[13px]">
          {props.places.map(({ id, name }) => (
            <DropdownMenu.Item key={id} className="menu-item" onSelect={() => props.onPlace(id)}>
              {name}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
