import type { Recipe, Scene } from "../../api/generated";

/** The recipe with its bins at the ends of its bands, named as they are, open at both sides, with both ends in them as bands
 * have (where two touch, the lower one has the end); null where it has no bins, no bands at numbers, or them already. */
export function binsOf(recipe: Recipe, scene: Scene | null): Recipe | null {
  const place = recipe.layers.findIndex((layer) => layer.layer === "bins");
  const bands = recipe.guides.flatMap(({ band, label, group }) =>
    band && group === null && typeof band[0] === "number" && typeof band[1] === "number"
      ? [{ low: band[0], high: band[1], label }]
      : [],
  );
  const known = scene?.readings.flatMap((lane) =>
    lane.min === null || lane.max === null ? [] : [lane.min, lane.max],
  );
  if (place < 0 || bands.length === 0 || !known?.length) return null;
  const inner = [...new Set(bands.flatMap(({ low, high }) => [low, high]))].sort((a, b) => a - b);
  const [first = 0, last = 0] = [inner[0], inner[inner.length - 1]];
  const edges = [...inner];
  if (Math.min(...known) < first) edges.unshift(Math.min(...known));
  if (Math.max(...known) > last) edges.push(Math.max(...known));
  const names = edges.slice(1).map((high, i) => {
    const low = edges[i] as number;
    if (low < first) return `below ${first}`;
    if (high > last) return `above ${last}`;
    return bands.find((band) => band.low === low && band.high === high)?.label || `${low} to ${high}`;
  });
  const held_below = bands.map(({ high }) => edges.indexOf(high)).filter((at) => at > 0 && at < edges.length - 1);
  held_below.sort((a, b) => a - b);
  const bins = { ...recipe.layers[place], count: null, width_of_bins: null, edges, names, held_below };
  const next = { ...bins, open_below: edges[0] !== first, open_above: edges[edges.length - 1] !== last };
  if (JSON.stringify(next) === JSON.stringify(recipe.layers[place])) return null;
  const layers = recipe.layers.map((layer, i) => (i === place ? (next as typeof layer) : layer));
  return { ...recipe, layers };
}
