import type { ColumnSummary, FigureOptions, LayerOffer, Recipe } from "../api/generated";

type Tree = Record<string | number, unknown>;

/** The recipe with one value changed, at a path such as ["layers", 0, "fence", "k"]. */
export function withValue(recipe: Recipe, path: readonly (string | number)[], value: unknown): Recipe {
  const copy = structuredClone(recipe) as unknown as Tree;
  let place = copy;
  for (const key of path.slice(0, -1)) place = place[key] as Tree;
  const last = path[path.length - 1];
  if (last !== undefined) place[last] = value;
  return copy as unknown as Recipe;
}

const NO_PANELS = { down: null, across: null, wrapped: null };
/** How many days lanes, and parts of a lane, tell apart; more of them begin as months. */
const MOST_DAYS = 400;
const MOST_PARTS = 40;

/** A role as it begins with a column: many dates by their month. */
function begun<T extends Pick<NonNullable<Recipe["groups"]>, "dates">>(
  role: T,
  known: ColumnSummary | undefined,
  most: number,
): T {
  return known?.kind === "date" && known.distinct > most ? { ...role, dates: "months" } : role;
}

/** Another group column: order and names belong to the old one, how groups are placed stays. */
export function withGroups(
  recipe: Recipe,
  column: string | null,
  options: FigureOptions,
  form: string | null,
  known?: ColumnSummary,
): Recipe {
  if (!column) return { ...recipe, groups: null, subgroups: null };
  const usual = options.forms.find((other) => other.form === form)?.groups_placed;
  const placed = recipe.groups?.placed ?? usual ?? options.groups.placed;
  return withRoomForMeasures({ ...recipe, groups: begun({ ...options.groups, column, placed }, known, MOST_DAYS) });
}

/** Another column that splits each group. */
export function withSubgroups(
  recipe: Recipe,
  column: string | null,
  options: FigureOptions,
  form: string | null,
  known?: ColumnSummary,
): Recipe {
  const usual = options.forms.find((other) => other.form === form)?.subgroups_placed;
  const placed = recipe.subgroups?.placed ?? usual ?? options.subgroups.placed;
  return {
    ...recipe,
    subgroups: column ? begun({ ...options.subgroups, column, placed }, known, MOST_PARTS) : null,
  };
}

/** Whether each of several measures has a panel, so that there are none by columns. */
export function measuresApart({ measure, groups }: Recipe): boolean {
  return measure.columns.length > 1 && groups !== null && measure.placed === "panels";
}

/** Several measures stand where a split would, or where panels would: what stood there goes. */
function withRoomForMeasures(recipe: Recipe): Recipe {
  if (recipe.measure.columns.length < 2 || !recipe.groups) return recipe;
  if (measuresApart(recipe)) return { ...recipe, panels: { ...recipe.panels, ...NO_PANELS } };
  return { ...recipe, subgroups: null };
}

export type PanelWay = "wrapped" | "across" | "down";

/** Which way the (first) panels run. */
export function panelWay({ panels }: Recipe): PanelWay {
  return panels.across ? "across" : panels.down ? "down" : "wrapped";
}

/** A panel for each level of a column, the way that panels run already. */
export function withPanels(
  recipe: Recipe,
  column: string | null,
  options: FigureOptions,
  known?: ColumnSummary,
): Recipe {
  const way = panelWay(recipe);
  const alone = { ...recipe.panels, ...NO_PANELS };
  if (!column) return { ...recipe, panels: alone };
  const second = way === "across" ? { down: recipe.panels.down } : {};
  return {
    ...recipe,
    panels: { ...alone, ...second, [way]: begun({ ...options.panel, column }, known, MOST_PARTS) },
  };
}

/** The (first) panels another way. */
export function withPanelWay(recipe: Recipe, way: PanelWay): Recipe {
  const levels = recipe.panels[panelWay(recipe)];
  return { ...recipe, panels: { ...recipe.panels, ...NO_PANELS, [way]: levels } };
}

/** Panels down as well, beside those across. */
export function withPanelsDown(recipe: Recipe, column: string | null, options: FigureOptions): Recipe {
  return { ...recipe, panels: { ...recipe.panels, down: column ? { ...options.panel, column } : null } };
}

/** The column that panels follow, where there is one. */
export function panelColumn(recipe: Recipe): string | null {
  return recipe.panels[panelWay(recipe)]?.column ?? null;
}

/** How subgroups stand, else groups, and the recipe with the next way of it. */
export function withNextPlacement(recipe: Recipe, options: FigureOptions): Recipe {
  const part = recipe.subgroups ? "subgroups" : "groups";
  const role = recipe[part];
  const ways = options.parts
    .find((offer) => offer.part === part)
    ?.settings.find(({ path }) => path[0] === "placed")?.options;
  if (!role || !ways) return recipe;
  const placed = ways[(ways.indexOf(role.placed) + 1) % ways.length];
  return { ...recipe, [part]: { ...role, placed } };
}

/** Whether layers of one kind stand alone. Counts have an axis of their own, stems an even one. */
export function showsOnly(recipe: Recipe, kind: "counts" | "stem"): boolean {
  const shown = recipe.layers.filter((layer) => layer.shown);
  return shown.length > 0 && shown.every((layer) => layer.layer === kind);
}

/** Where the words of the figure's axis stand. */
export function axisWords(recipe: Recipe): "counts" | "measure" {
  return showsOnly(recipe, "counts") ? "counts" : "measure";
}

/**
 * Other measures: their own words and their own axis. Several stand in each group, where a split would, or have a panel each
 * where their units differ.
 */
export function withMeasures(recipe: Recipe, columns: string[], known: ColumnSummary[] = []): Recipe {
  const axis = { ...recipe.axis, from: null, to: null };
  const words = { ...recipe.words, measure: "", title: "" };
  const units = new Set(known.filter(({ name }) => columns.includes(name)).map(({ unit }) => unit));
  const placed = units.size > 1 ? "panels" : columns.length > 1 ? recipe.measure.placed : "within groups";
  return withRoomForMeasures({ ...recipe, measure: { ...recipe.measure, columns, placed }, axis, words });
}

type Kept = Recipe["keep"][number];

/** A condition on rows in a few words. */
export function keptWords(condition: Kept): string {
  if ("is" in condition) return condition.is.join(", ");
  if ("is_not" in condition) return `not ${condition.is_not.join(", ")}`;
  if ("missing" in condition) return `${condition.column} ${condition.missing ? "missing" : "there"}`;
  const ends = [
    ["from", condition.from],
    ["to", condition.to],
    [">", condition.above],
    ["<", condition.below],
  ] as const;
  return [condition.column, ...ends.filter(([, end]) => end !== null).map(([word, end]) => `${word} ${end}`)].join(
    " ",
  );
}

/** The levels of a column that are kept, null where all of them are. */
export function keptLevels(recipe: Recipe, column: ColumnSummary): string[] | null {
  const condition = recipe.keep.find((condition) => condition.column === column.name);
  if (condition && "is" in condition) return condition.is;
  if (!condition || !("is_not" in condition)) return null;
  return column.levels.map(({ level }) => level).filter((level) => !condition.is_not.includes(level));
}

/** The kept levels of one column. Where not all levels are known here, those are named that are not kept. */
export function withKept(recipe: Recipe, column: ColumnSummary, kept: string[]): Recipe {
  const others = recipe.keep.filter((condition) => condition.column !== column.name);
  const out = column.levels.map(({ level }) => level).filter((level) => !kept.includes(level));
  if (out.length === 0) return { ...recipe, keep: others };
  const named = column.distinct > column.levels.length ? { is_not: out } : { is: kept };
  return { ...recipe, keep: [...others, { column: column.name, ...named }] };
}

/** The recipe with one more layer, behind those that stand further in front. */
export function withLayer(
  recipe: Recipe,
  offers: LayerOffer[],
  offer: LayerOffer,
  change: Record<string, unknown> = {},
): Recipe {
  const front = (kind: string) => offers.find((other) => other.layer === kind)?.front ?? 0;
  // Beside what is there already it begins readable; what was set by hand stays.
  const there = recipe.layers.map((layer) => offers.find((other) => other.layer === layer.layer)?.stands_as);
  const arrives = Object.fromEntries(
    there.flatMap((stands) => (stands ? Object.entries(offer.arrives[stands] ?? {}) : [])),
  );
  const layer = { ...offer.usual, ...arrives, ...change, id: freeId(recipe, offer.layer.slice(0, 1)) };
  const before = recipe.layers.findIndex((other) => front(other.layer) > offer.front);
  const at = before < 0 ? recipe.layers.length : before;
  return { ...recipe, layers: recipe.layers.toSpliced(at, 0, layer as Recipe["layers"][number]) };
}

/** The first free id such as p1, p2. */
function freeId(recipe: Recipe, stem: string): string {
  for (let n = 1; ; n++) if (!recipe.layers.some((layer) => layer.id === `${stem}${n}`)) return `${stem}${n}`;
}
