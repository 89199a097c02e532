import { get, put } from "../api/client";
import type { ComparisonState, Recipe, Scene } from "../api/generated";
import { heldDigests } from "../scene/points";

/** What a comparison's page begins with: its state, and the figure of that state. */
export interface Ahead {
  comparison: Promise<ComparisonState>;
  scene: Promise<Scene>;
}

let begun: { id: string; ahead: Ahead } | null = null;

/** Ask for what the page at an address begins with, while its code is still on the way. */
export function begin(address: string): void {
  const id = /^\/comparisons\/([^/]+)\/?$/.exec(address)?.[1];
  if (id) begun = { id, ahead: asked(id) };
}

/** What was asked for ahead, for whoever opens the comparison first; asked for now where nothing was. */
export function opening(id: string): Ahead {
  const ahead = begun?.id === id ? begun.ahead : asked(id);
  begun = null;
  return ahead;
}

function asked(id: string): Ahead {
  const comparison = get<ComparisonState>(`comparisons/${id}`);
  const scene = comparison.then(({ recipe }) => sceneOf(id, recipe));
  // Who asks is told; until then a refusal is no error of the page.
  comparison.catch(() => undefined);
  scene.catch(() => undefined);
  return { comparison, scene };
}

/** The scene of a recipe, without the points that the page holds. */
export function sceneOf(comparison: string, recipe: Recipe): Promise<Scene> {
  return put<Scene>("POST", `comparisons/${comparison}/scene`, { recipe, have: heldDigests() });
}
