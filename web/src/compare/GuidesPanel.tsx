import type { Guide, Recipe } from "../api/generated";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { typedNumber } from "../ui/numbers";
import type { PanelProps } from "./panelProps";

const FIELD = "w-full rounded border border-hairline bg-sheet px-2 py-1";

/** Reference lines and bands: a number, two numbers with a semicolon between them, mean or median; each with a label. */
export function GuidesPanel({ recipe, onSettle }: Pick<PanelProps, "recipe" | "onSettle">) {
  const settle = (guides: Recipe["guides"]) => onSettle({ ...recipe, guides });
  const changed = (place: number, guide: Partial<Guide>) =>
    settle(recipe.guides.map((one, i) => (i === place ? { ...one, ...guide } : one)));
  return (
    <section aria-label="Guides" className="border-t border-hairline pt-3">
      <h2 className="mb-2 text-[15px] font-bold">Guides</h2>
      <div className="grid gap-2">
        {recipe.guides.map((guide, place) => (
          <div key={place} className="grid grid-cols-[4.6rem_minmax(0,1fr)_auto] items-center gap-2">
            <Field
              aria-label={`Guide ${place + 1} at`}
              title="A number, two numbers with a semicolon for a band, mean or median"
              value={written(guide)}
              onSettle={(text) => {
                const found = read(text);
                if (found) changed(place, found);
                return found !== null;
              }}
              className={`number ${FIELD}`}
            />
            <Field
              aria-label={`Guide ${place + 1} label`}
              placeholder="label"
              value={guide.label}
              onSettle={(label) => {
                changed(place, { label });
                return true;
              }}
              className={FIELD}
            />
            <Button
              look="quiet"
              className="!p-0 !font-normal"
              aria-label={`Remove guide ${place + 1}`}
              onClick={() => settle(recipe.guides.filter((_, i) => i !== place))}
            >
              Remove
            </Button>
          </div>
        ))}
      </div>
      <Button
        look="quiet"
        className="!px-0"
        onClick={() =>
          settle([...recipe.guides, { at: "median", band: null, label: "median of all", dash: "dashed" }])
        }
      >
        + Guide
      </Button>
    </section>
  );
}

function written(guide: Guide): string {
  return guide.band ? guide.band.join("; ") : String(guide.at ?? "");
}

function read(text: string): Pick<Guide, "at" | "band"> | null {
  const word = text.trim().toLowerCase();
  if (word === "mean" || word === "median") return { at: word, band: null };
  const numbers = word.split(";").map(typedNumber);
  if (numbers.some((number) => number === null) || numbers.length > 2) return null;
  const [low, high] = numbers as [number, number | undefined];
  if (high === undefined) return { at: low, band: null };
  return low === high ? null : { at: null, band: [Math.min(low, high), Math.max(low, high)] };
}
