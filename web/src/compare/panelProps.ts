import type { Recipe } from "../api/generated";

/** What every panel of settings works on. */
export interface PanelProps {
  recipe: Recipe;
  /** Show a recipe on the way. */
  onMove: (recipe: Recipe) => void;
  /** Show a recipe, and keep it once the keys of a control (`what`) rest. */
  onRest: (recipe: Recipe, what: string) => void;
  /** Keep a recipe. */
  onSettle: (recipe: Recipe) => void;
}
