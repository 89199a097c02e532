import type { FigureOptions, Recipe } from "../../api/generated";
import type { Asked } from "./asked";
import { draws, withControlLines, withKind, without, withPairedLanes } from "./drawn";

/** What of the differences stands on the figure: each put there and taken away by a press. */
export function DrawnChoices(props: {
  recipe: Recipe;
  asked: Asked;
  options: FigureOptions;
  /** Whether lanes are compared in pairs. */
  paired: boolean;
  onSettle: (recipe: Recipe) => void;
}) {
  const { recipe, asked, options, paired, onSettle } = props;
  const { level } = asked;
  const toggled = (kind: "difference" | "bracket") =>
    onSettle(draws(recipe, kind) ? without(recipe, kind) : withKind(recipe, options, kind, { level }));
  const choices = [
    { name: "Differences", on: draws(recipe, "difference"), press: () => toggled("difference") },
    { name: "Brackets", on: draws(recipe, "bracket"), press: () => toggled("bracket") },
    paired && {
      name: "Paired lanes",
      on: asked.drawn,
      press: () => onSettle(withPairedLanes(recipe, options, !asked.drawn)),
    },
    asked.control !== null && {
      name: "Control lines",
      on: draws(recipe, "control"),
      press: () =>
        onSettle(draws(recipe, "control") ? without(recipe, "control") : withControlLines(recipe, options)),
    },
  ].filter((choice) => choice !== false);
  return (
    <fieldset className="border-t border-hairline pt-3">
      <legend className="float-left mb-2 w-full font-bold">On the figure</legend>
      <div className="clear-both flex flex-wrap gap-1.5">
        {choices.map(({ name, on, press }) => (
          <button
            key={name}
            type="button"
            aria-pressed={on}
            data-path={name === "Paired lanes" ? "differences.drawn" : "layers"}
            onClick={press}
            className="rounded-md border border-hairline bg-sheet px-2 py-1 hover:border-muted aria-pressed:border-petrol aria-pressed:bg-petrol aria-pressed:text-sheet"
          >
            {name}
          </button>
        ))}
      </div>
    </fieldset>
  );
}
