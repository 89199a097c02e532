import type { ColumnSummary, FigureOptions, Recipe, StudyCards } from "../../api/generated";
import { withGroups, withLayer, withMeasures, withPanels, withSubgroups } from "../recipe";
import type { Command } from "./Commands";

interface Have {
  recipe: Recipe;
  options: FigureOptions | undefined;
  columns: ColumnSummary[];
  studies: StudyCards;
  form: string | null;
  comparison: string;
  change: (recipe: Recipe) => void;
  chooseForm: (form: string) => void;
  go: (address: string) => void;
}

const DIGITS = "1234567890";

/** What can be done with the columns, forms and layers at hand, and where one can go. */
export function commandsOf(have: Have): Command[] {
  const { recipe, options, columns, change, form } = have;
  if (!options) return [];
  const forms = options.forms.map((form, place) => ({
    kind: "form",
    words: form.form,
    ...(place < 10 ? { keys: DIGITS[place] as string } : {}),
    run: () => have.chooseForm(form.form),
  }));
  const layers = options.layers
    .filter((offer) => !recipe.layers.some((layer) => layer.layer === offer.layer))
    .map((offer) => ({
      kind: "add a layer",
      words: offer.title,
      run: () => change(withLayer(recipe, options.layers, offer)),
    }));
  const measures = columns
    .filter((column) => column.kind === "measure")
    .map((column) => ({
      kind: "measure",
      words: column.name,
      run: () => change(withMeasures(recipe, [column.name])),
    }));
  const divides = columns.filter((column) => column.distinct > 0 && column.distinct <= 40);
  const roles = divides.flatMap((column) => [
    { kind: "groups", words: column.name, run: () => change(withGroups(recipe, column.name, options, form)) },
    ...(recipe.groups
      ? [
          {
            kind: "split by",
            words: column.name,
            run: () => change(withSubgroups(recipe, column.name, options, form)),
          },
        ]
      : []),
    { kind: "a panel per", words: column.name, run: () => change(withPanels(recipe, column.name, options)) },
  ]);
  const comparisons = have.studies.flatMap((study) =>
    study.comparisons
      .filter((comparison) => comparison.id !== have.comparison)
      .map((comparison) => ({
        kind: "comparison",
        words: `${comparison.name} (${study.name})`,
        run: () => have.go(`/comparisons/${comparison.id}`),
      })),
  );
  return [...forms, ...layers, ...measures, ...roles, ...comparisons];
}
