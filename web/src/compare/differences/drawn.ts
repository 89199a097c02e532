import type { FigureOptions, Recipe } from "../../api/generated";
import { withLayer } from "../recipe";

type Layer = Recipe["layers"][number];

/** Whether a layer of this kind is among the recipe's. */
export function draws(recipe: Recipe, kind: Layer["layer"]): boolean {
  return recipe.layers.some((layer) => layer.layer === kind);
}

/** The recipe without layers of a kind; unchanged where nothing else would be left. */
export function without(recipe: Recipe, kind: Layer["layer"]): Recipe {
  const layers = recipe.layers.filter((layer) => layer.layer !== kind);
  return layers.length ? { ...recipe, layers } : recipe;
}

/** The recipe with one more layer of a kind. */
export function withKind(
  recipe: Recipe,
  options: FigureOptions,
  kind: Layer["layer"],
  change: Record<string, unknown> = {},
): Recipe {
  const offer = options.layers.find((layer) => layer.layer === kind);
  return offer ? withLayer(without(recipe, kind), options.layers, offer, change) : recipe;
}

// What comes with paired lanes, and goes with them: other means and guides stay.
const PAIRED_MEAN = "pairs1";
const PAIRED_GUIDES = ["no difference", "equivalent"];

/** Lanes that hold the differences within subjects, as points with their mean and its interval, about zero. */
export function withPairedLanes(recipe: Recipe, options: FigureOptions, drawn: boolean): Recipe {
  const asked = recipe.differences ?? options.differences;
  const layers = recipe.layers.filter((layer) => layer.id !== PAIRED_MEAN);
  const guides = recipe.guides.filter((guide) => !PAIRED_GUIDES.includes(guide.label));
  const bare = { ...recipe, differences: { ...asked, drawn }, layers, guides };
  const mean = options.layers.find((layer) => layer.layer === "mean");
  if (!drawn || !mean) return bare;
  const [zero, equivalent] = PAIRED_GUIDES.map((label) => ({
    label,
    dash: "dashed" as const,
    group: null,
    own: false,
  }));
  const { margin } = asked;
  const about: Recipe["guides"] = [{ ...zero, at: 0, band: null } as Recipe["guides"][number]];
  if (margin !== null) about.push({ ...equivalent, at: null, band: [-margin, margin] } as Recipe["guides"][number]);
  const pointed = draws(bare, "points") ? bare : withKind(bare, options, "points", { place: "on" });
  const settings = { interval: "confidence", level: asked.level, place: "below", size: 6, strength: 1.6 };
  const layer = { ...mean.usual, ...settings, id: PAIRED_MEAN } as Layer;
  return { ...pointed, layers: [...pointed.layers, layer], guides: [...guides, ...about] };
}

/** Points in order with control lines through them, in place of what was drawn. */
export function withControlLines(recipe: Recipe, options: FigureOptions): Recipe {
  const order = recipe.differences?.control?.order ?? null;
  const point = options.layers.find((layer) => layer.layer === "points");
  const control = options.layers.find((layer) => layer.layer === "control");
  if (!point || !control) return recipe;
  const before = recipe.layers.find((layer) => layer.layer === "points");
  const settings = {
    ...(before ?? point.usual),
    id: "p1",
    place: "on",
    spread: "in order",
    against: order,
    width: 0.94,
  };
  const bare = { ...recipe, layers: [settings as Layer], axis: { ...recipe.axis, runs: "up" as const } };
  return withLayer(bare, options.layers, control);
}
