import type { ColumnSummary, FigureOptions, Recipe, Setting, StudyCards } from "../../api/generated";
import { matters } from "../panels/SettingList";
import { panelColumn, withGroups, withLayer, withMeasures, withPanels, withSubgroups } from "../recipe";
import type { Command } from "./Commands";

/** Settings with a place of their own on the page, and what else they are called. */
export const PLACES: [path: string, words: string, find: string][] = [
  ["words.title", "Title", "heading caption headline"],
  ["words.subtitle", "Subtitle", "heading"],
  ["words.measure", "Axis label", "axis title name unit"],
  ["words.groups", "Groups label", "axis title name"],
  ["words.caption", "Caption", "legend text"],
  ["words.source", "Source", "credit data"],
  ["words.note.under", "Method note under the figure", "methods text"],
  ["words.key.placed", "Reader’s key", "legend explain marks"],
  ["style", "Look", "style theme template house"],
  ["own_look.typeface", "Typeface", "font"],
  ["own_look.text_size", "Text size", "font"],
  ["own_look.weight", "Line weight", "thickness stroke"],
  ["own_look.strength", "Fill strength", "opacity transparency alpha"],
  ["own_look.rulings", "Rulings", "grid lines"],
  ["own_look.axis_line", "Axis line", "spine frame"],
  ["own_look.key", "Key of colours", "legend"],
  ["own_look.lane_colours", "Colours in turn", "palette sequence scheme"],
  ["own_look.level_colours", "Colour of a level", "palette"],
  ["size.width", "Width of the sheet", "size journal column mm"],
  ["size.height", "Height of the sheet", "size aspect mm"],
  ["groups.column", "Groups", "category factor across"],
  ["measure.columns", "Measure", "variable value column outcome"],
  ["keep", "Rows kept", "filter subset"],
  ["ledger.readings", "Readings of the ledger", "numbers table statistics summary"],
  ["ledger.drawn", "Numbers on the figure", "ledger readings table paper"],
  ["differences.to", "What lanes are compared with", "test p value significance"],
  ["differences.paired_by", "Paired by", "repeated subject before after"],
];

interface Have {
  recipe: Recipe;
  options: FigureOptions | undefined;
  columns: ColumnSummary[];
  studies: StudyCards;
  form: string | null;
  comparison: string;
  change: (recipe: Recipe) => void;
  /** Go to the control that changes a path of the recipe. */
  goTo: (path: string) => void;
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
  const setting = (words: string, path: string, find: string) => ({
    kind: "setting",
    words,
    find,
    run: () => have.goTo(path),
  });
  const ofPart = (title: string, settings: Setting[], at: (string | number)[], name: string) =>
    settings
      .filter((known) => matters(recipe, at, known))
      .map(({ path, name: called, meaning, find }) =>
        setting(`${title}: ${called}`, [name, ...path].join("."), `${meaning} ${find.join(" ")}`),
      );
  const ofLayers = recipe.layers.flatMap((layer, place) => {
    const offer = options.layers.find((offer) => offer.layer === layer.layer);
    return offer ? ofPart(offer.title, offer.settings, ["layers", place], `layers.${layer.layer}`) : [];
  });
  const here = (part: string) => recipe[part as keyof Recipe] && (part !== "panels" || panelColumn(recipe));
  const ofParts = options.parts
    .filter(({ part }) => here(part) && part !== "guides")
    .flatMap(({ part, title, settings }) => ofPart(title, settings, [part], part));
  const ofPlaces = PLACES.map(([path, words, find]) => setting(words, path, find));
  const all = [...forms, ...layers, ...measures, ...roles, ...ofPlaces, ...ofParts, ...ofLayers, ...comparisons];
  return [...new Map(all.map((command) => [`${command.kind} ${command.words}`, command])).values()];
}
