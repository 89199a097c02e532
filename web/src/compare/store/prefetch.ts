import { answer, api } from "../../api/client";
import type { ComparisonState, Recipe, Scene } from "../../api/generated";
import { heldDigests } from "../../scene/points";

/** What a comparison's page begins with: its state, and the figure of that state. */
export interface Prefetched {
  comparison: Promise<ComparisonState>;
  scene: Promise<Scene>;
}

let begun: { id: string; ahead: Prefetched } | null = null;

/** Ask for what the page at an address begins with, while its code is still on the way. */
export function begin(address: string): void {
  const id = /^\/comparisons\/([^/]+)\/?$/.exec(address)?.[1];
  if (id) begun = { id, ahead: asked(id) };
}

/** What was asked for ahead, for whoever opens the comparison first; asked for now where nothing was. */
export function opening(id: string): Prefetched {
  const ahead = begun?.id === id ? begun.ahead : asked(id);
  begun = null;
  return ahead;
}

function asked(id: string): Prefetched {
  const comparison = answer(
    api.GET("/api/comparisons/{comparison_id}", { params: { path: { comparison_id: id } } }),
  );
  const scene = comparison.then(({ recipe }) => sceneOf(id, recipe));
  // Who asks is told; until then a refusal is no error of the page.
  comparison.catch(() => undefined);
  scene.catch(() => undefined);
  return { comparison, scene };
}

/** Scenes that came with their recipe, until they are asked for. */
const brought = new WeakMap<Recipe, Scene>();

/** Lay a scene down that came with its recipe. */
export function bring(recipe: Recipe, scene: Scene): void {
  brought.set(recipe, scene);
}

/** The scene of a recipe, without the points that the page holds. */
export function sceneOf(comparison: string, recipe: Recipe): Promise<Scene> {
  const came = brought.get(recipe);
  if (came) {
    brought.delete(recipe);
    return Promise.resolve(came);
  }
  return answer(
    api.POST("/api/comparisons/{comparison_id}/scene", {
      params: { path: { comparison_id: comparison } },
      body: { recipe, have: heldDigests() },
    }),
  );
}
