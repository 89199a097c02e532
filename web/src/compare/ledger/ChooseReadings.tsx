import { Popover } from "radix-ui";
import { useId } from "react";
import type { Recipe, Scene } from "../../api/generated";
import { Field } from "../../ui/Field";
import { Row } from "../../ui/Row";
import { Tick } from "../../ui/Tick";
import { levelsShown } from "../sheet/lanes";
import { READING_NAMES, READINGS, type ReadingName } from "./readings";

const WIDE = 174;
const MOST_SHARES = 12;

interface Props {
  scene: Scene;
  recipe: Recipe;
  onSettle: (recipe: Recipe) => void;
}

/** Which numbers the ledger shows, and the lane that the others are set against. */
export function ChooseReadings({ scene, recipe, onSettle }: Props) {
  const id = useId();
  const { readings, reference } = recipe.ledger;
  const change = (ledger: Partial<Recipe["ledger"]>) =>
    onSettle({ ...recipe, ledger: { ...recipe.ledger, ...ledger } });
  const ticked = (name: ReadingName, on: boolean) => {
    const next = READING_NAMES.filter((reading) => (reading === name ? on : readings.includes(reading)));
    if (next.length) change({ readings: next });
  };
  return (
    <Popover.Root>
      <Popover.Trigger data-path="ledger" className="font-bold whitespace-nowrap text-petrol hover:underline">
        Readings
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={6}
          className="z-30 w-72 rounded-lg bg-sheet p-4 text-[13px] shadow-float"
        >
          <fieldset data-path="ledger.readings" className="mb-3 grid grid-cols-2 gap-x-3 gap-y-1">
            <legend className="mb-1 font-bold">The ledger shows</legend>
            {READING_NAMES.map((name) => (
              <label key={name} htmlFor={id + name} className="flex items-center gap-2">
                <input
                  id={id + name}
                  type="checkbox"
                  className="size-4 accent-petrol"
                  checked={readings.includes(name)}
                  onChange={(event) => ticked(name, event.target.checked)}
                />
                {READINGS[name].name}
              </label>
            ))}
          </fieldset>
          <div className="mb-3">
            <Tick
              name="On the figure too, in files as well"
              path="ledger.drawn"
              on={recipe.ledger.drawn}
              onChange={(drawn) => {
                const width = Number.parseFloat(recipe.size.width);
                // Numbers beside the lanes take room from the marks: a wider sheet gives it back.
                const size =
                  drawn && recipe.size.width.endsWith("mm") && width < WIDE
                    ? { ...recipe.size, width: `${WIDE}mm` }
                    : recipe.size;
                onSettle({ ...recipe, size, ledger: { ...recipe.ledger, drawn } });
              }}
            />
          </div>
          <div className="mb-2">
            <Row
              name="Shares of"
              path="ledger.shares"
              id={`${id}values`}
              help="Values whose share of each lane is read with its interval, such as 0; none. Beyond a limit: those words."
            >
              <Field
                id={`${id}values`}
                placeholder="0; none"
                value={recipe.ledger.shares.join("; ")}
                onSettle={(text) => {
                  const shares = [
                    ...new Set(
                      text
                        .split(";")
                        .map((part) => part.trim())
                        .filter(Boolean),
                    ),
                  ];
                  if (shares.length > MOST_SHARES) return false;
                  change({ shares, readings: READING_NAMES.filter((r) => r === "shares" || readings.includes(r)) });
                  return true;
                }}
                className="w-full rounded border border-hairline bg-sheet px-2 py-1"
              />
            </Row>
          </div>
          <Row name="Difference to" path="ledger.reference" id={`${id}ref`}>
            <select
              id={`${id}ref`}
              value={reference ?? ""}
              onChange={(event) => change({ reference: event.target.value || null })}
              className="min-w-0 rounded border border-hairline bg-sheet px-2 py-1"
            >
              <option value="">no lane</option>
              {levelsShown(scene).map((level) => (
                <option key={level}>{level}</option>
              ))}
            </select>
          </Row>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
