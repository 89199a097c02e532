import { useId } from "react";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Words } from "../../ui/Field";
import { tell } from "../../ui/Notices";
import { PickRow } from "../../ui/PickRow";
import { Row } from "../../ui/Row";
import { Tick } from "../../ui/Tick";
import { laneWords } from "../ledger/Ledger";
import { axisWords, withValue } from "../recipe";
import { useBenchState, useRights, useShown } from "../store/BenchContext";
import { useFigureOptions } from "../useFigureOptions";

const BEFORE_AXIS = [
  { key: "title", name: "Title" },
  { key: "subtitle", name: "Subtitle" },
] as const;
const AFTER_AXIS = [
  { key: "groups", name: "Groups label" },
  { key: "caption", name: "Caption" },
  { key: "source", name: "Source" },
  { key: "credit", name: "Credit" },
] as const;
const KEY = [
  { value: "none", name: "None" },
  { value: "below", name: "Below" },
  { value: "beside", name: "Beside" },
] as const;
const LENGTHS = [
  { value: "full", name: "Full" },
  { value: "short", name: "Short" },
] as const;

/** What the reader reads: words, method note, reader's key. */
export function WordsPanel() {
  const { recipe } = useShown();
  const { change: onSettle } = useRights();
  const scene = useBenchState((state) => state.scene);
  const options = useFigureOptions();
  const stem = useId();
  const { note, key } = recipe.words;
  const [first] = scene?.lanes ?? [];
  const lane = first && scene && scene.panels.length > 1 ? laneWords(scene, first.key) : (first?.name ?? "Night");
  const fields = [...BEFORE_AXIS, { key: axisWords(recipe), name: "Axis label" }, ...AFTER_AXIS];
  const settle = (path: string[], value: unknown) => onSettle(withValue(recipe, ["words", ...path], value));
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-3 px-4 py-4">
      {fields.map(({ key, name }) => (
        <div key={key} className="grid gap-1" data-path={`words.${key}`}>
          <label htmlFor={stem + key}>{name}</label>
          <Words
            id={stem + key}
            value={recipe.words[key]}
            maxLength={key === "caption" ? 2_000 : 500}
            onSettle={(text) => {
              settle([key], text);
              return true;
            }}
            className="rounded border border-hairline bg-sheet px-2 py-1.5"
          />
        </div>
      ))}
      <div className="text-[12px] text-muted">
        <p>Marks: {"*italics*, 10^{3}, CO_{2}"}; a backslash keeps a mark as it is.</p>
        <details className="mt-1">
          <summary className="cursor-pointer">
            Places stay true when data change: {`{n}, {median:${lane}}`} …
          </summary>
          <p className="mt-1">Of all rows: {options?.places.map((place) => `{${place}}`).join(" ")}</p>
          <p className="mt-1">
            Of one lane, by its name: {options?.lane_places.map((place) => `{${place}:${lane}}`).join(" ")}
          </p>
        </details>
      </div>
      <section aria-label="Method note" className="grid gap-2 border-t border-hairline pt-3">
        <h2 className="text-[15px] font-bold">Method note</h2>
        <Row name="Length" path="words.note.length">
          <Choice
            name="Length"
            value={note.length}
            options={LENGTHS}
            onChange={(length) => settle(["note", "length"], length)}
          />
        </Row>
        <Row name="English" path="words.note.english">
          <Choice
            name="English"
            value={note.english}
            options={(options?.languages ?? [note.english]).map((value) => ({ value, name: value }))}
            onChange={(english) => settle(["note", "english"], english)}
          />
        </Row>
        <Tick
          name="Drawn under the figure"
          path="words.note.under"
          on={note.under}
          onChange={(under) => settle(["note", "under"], under)}
        />
        <p className="flex gap-4">
          <Button look="quiet" className="!p-0" onClick={() => void copyText(scene?.note ?? "")}>
            Copy it
          </Button>
          <Button look="quiet" className="!p-0" onClick={() => settle(["caption"], asWritten(scene?.note ?? ""))}>
            Into the caption
          </Button>
        </p>
      </section>
      <section aria-label="Reader’s key" className="grid gap-2 border-t border-hairline pt-3">
        <h2 className="text-[15px] font-bold">Reader’s key</h2>
        <p className="text-[12.5px] text-muted">One lane of the figure with its marks numbered and explained.</p>
        <div data-path="words.key.placed">
          <Choice
            name="Reader’s key"
            value={key.placed}
            options={KEY}
            onChange={(placed) => settle(["key", "placed"], placed)}
          />
        </div>
        {key.placed !== "none" && (
          <PickRow
            name="Lane"
            path="words.key.lane"
            value={key.lane}
            options={scene?.lanes.map((lane) => lane.name) ?? []}
            nothing="with most values"
            onPick={(lane) => settle(["key", "lane"], lane)}
          />
        )}
      </section>
    </div>
  );
}

/** Text that stands as it is where marks are read. */
function asWritten(text: string): string {
  return text.replace(/[*\\]|[\^_](?=\{)/g, "\\$&");
}

async function copyText(text: string): Promise<void> {
  await navigator.clipboard.writeText(text).catch(tell);
}
