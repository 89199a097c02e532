import type { Offered, Recipe } from "../../api/generated";
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
  offered: Offered,
  kind: Layer["layer"],
  change: Record<string, unknown> = {},
): Recipe {
  const offer = offered.layers.find((one) => one.layer === kind);
  return offer ? withLayer(without(recipe, kind), offer, change) : recipe;
}

/** Lanes that hold the differences within subjects, as points with their mean and its interval, about zero. */
export function withPairedLanes(recipe: Recipe, offered: Offered, drawn: boolean): Recipe {
  const asked = recipe.differences ?? offered.differences;
  const changed = { ...recipe, differences: { ...asked, drawn } };
  const zero = { at: 0, band: null, label: "no difference", dash: "dashed" as const };
  const others = recipe.guides.filter((guide) => guide.label !== zero.label);
  if (!drawn) return without({ ...changed, guides: others }, "mean");
  const margin = asked.margin;
  const band = {
    at: null,
    band: [-(margin ?? 0), margin ?? 0] as [number, number],
    label: "equivalent",
    dash: zero.dash,
  };
  const guides = [...others, zero, ...(margin === null ? [] : [band])];
  const pointed = draws(recipe, "points") ? changed : withKind(changed, offered, "points", { place: "on" });
  const mean = { interval: "confidence", level: asked.level, place: "below", size: 6, strength: 1.6 };
  return withKind({ ...pointed, guides }, offered, "mean", mean);
}

/** Points in order with control lines through them, in place of what was drawn. */
export function withControlLines(recipe: Recipe, offered: Offered): Recipe {
  const order = recipe.differences?.control?.order ?? null;
  const point = offered.layers.find((one) => one.layer === "points");
  const control = offered.layers.find((one) => one.layer === "control");
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
  return withLayer(bare, control);
}
