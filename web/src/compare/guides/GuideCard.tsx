import type { Guide } from "../../api/generated";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Tick } from "../../ui/Tick";
import { SettingList } from "../panels/SettingList";
import { useFigureOptions } from "../useFigureOptions";
import { KIND_NAMES, KINDS, type KindName, placeOf, relabelled, typedPlace } from "./places";

/** What a line has and a band has not. */
const OF_LINES = ["dash", "weight", "behind"];
const FIELD = "min-w-0 w-full rounded border border-hairline bg-sheet px-2 py-1";

interface Props {
  number: number;
  guide: Guide;
  /** The groups that it may hold for. */
  levels: string[];
  /** From where to where the figure's values reach. */
  range: [number, number];
  onChange: (guide: Guide) => void;
  onRemove: () => void;
}

/** One guide: what it stands at, its label, and whom it holds for. */
export function GuideCard({ number, guide, levels, range, onChange: keep, onRemove }: Props) {
  const onChange = (next: Guide) => keep(relabelled(guide, next));
  const { kind, numbers } = placeOf(guide);
  const chosen = KINDS[kind];
  const choose = (next: KindName) => {
    const [low, high] = range;
    const usual = { line: [(low + high) / 2], band: [low + (high - low) / 4, high - (high - low) / 4] };
    const begin = next === "line" || next === "band" ? usual[next].map(rounded) : KINDS[next].usual;
    const made = KINDS[next].make(begin);
    if (made) onChange({ ...guide, ...made, own: guide.own && next !== "line" && next !== "band" });
  };
  const drawn = useFigureOptions()?.parts.find((offer) => offer.part === "guides");
  const fixed = kind === "line" || kind === "band";
  return (
    <div className="grid gap-1 rounded border border-hairline p-2">
      <div className="grid grid-cols-[minmax(0,1fr)_auto] items-center gap-2">
        <select
          aria-label={`Guide ${number} kind`}
          data-path="guides.at guides.band"
          value={kind}
          onChange={(event) => choose(event.target.value as KindName)}
          className={FIELD}
        >
          {KIND_NAMES.map((name) => (
            <option key={name} value={name}>
              {KINDS[name].name}
            </option>
          ))}
        </select>
        <Button look="quiet" className="!p-0 !font-normal" aria-label={`Remove guide ${number}`} onClick={onRemove}>
          Remove
        </Button>
      </div>
      <div
        className={`grid gap-1 ${chosen.numbers ? "grid-cols-[5.6rem_minmax(0,1fr)]" : "grid-cols-[minmax(0,1fr)]"}`}
      >
        {chosen.numbers > 0 && (
          <Field
            aria-label={`Guide ${number} at`}
            title={chosen.help}
            value={numbers.join("; ")}
            onSettle={(text) => {
              const made = typedPlace(kind, text);
              if (made) onChange({ ...guide, ...made });
              return made !== null;
            }}
            className={`number ${FIELD}`}
          />
        )}
        <Field
          aria-label={`Guide ${number} label`}
          data-path="guides.label"
          placeholder="label"
          maxLength={200}
          value={guide.label}
          onSettle={(label) => {
            onChange({ ...guide, label });
            return true;
          }}
          className={FIELD}
        />
      </div>
      {levels.length > 0 && (
        <select
          aria-label={`Guide ${number} for`}
          data-path="guides.group"
          value={guide.group ?? ""}
          onChange={(event) => onChange({ ...guide, group: event.target.value || null })}
          className={FIELD}
        >
          <option value="">for all lanes</option>
          {[...new Set([...levels, ...(guide.group ? [guide.group] : [])])].map((level) => (
            <option key={level} value={level}>
              for {level}
            </option>
          ))}
        </select>
      )}
      {drawn && (
        <details>
          <summary className="cursor-pointer text-muted">How it is drawn</summary>
          <div className="pt-2">
            <SettingList
              settings={drawn.settings.filter(
                ({ path }) => guide.band === null || !OF_LINES.includes(path.join(".")),
              )}
              at={["guides", number - 1]}
              name="guides"
            />
          </div>
        </details>
      )}
      {!fixed && (
        <Tick
          name="Each lane at its own"
          path="guides.own"
          on={guide.own}
          onChange={(own) => onChange({ ...guide, own })}
        />
      )}
    </div>
  );
}

function rounded(value: number): number {
  return Number(value.toPrecision(3));
}
