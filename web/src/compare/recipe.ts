import type { Recipe } from "../api/generated";

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

/** Another group column: order and names belong to the old one. */
export function withGroups(recipe: Recipe, column: string | null): Recipe {
  const measure = column ? { columns: recipe.measure.columns.slice(0, 1) } : recipe.measure;
  return { ...recipe, measure, groups: column ? { column, order: [], labels: {} } : null };
}

/** Other measures: their own words and their own axis. Several give one lane each, without groups. */
export function withMeasures(recipe: Recipe, columns: string[]): Recipe {
  const axis = { ...recipe.axis, from: null, to: null };
  const words = { ...recipe.words, measure: "", title: "" };
  return { ...recipe, measure: { columns }, groups: columns.length > 1 ? null : recipe.groups, axis, words };
}

/** The kept levels of one column; null keeps all of them. */
export function withKept(recipe: Recipe, column: string, levels: string[] | null): Recipe {
  const others = recipe.keep.filter((condition) => condition.column !== column);
  return { ...recipe, keep: levels ? [...others, { column, is: levels }] : others };
}

/** The first free id such as p1, p2. */
export function freeId(recipe: Recipe, stem: string): string {
  for (let n = 1; ; n++) if (!recipe.layers.some((layer) => layer.id === `${stem}${n}`)) return `${stem}${n}`;
}
