import type { Recipe } from "../api/generated";

/** What every panel of settings works on. */
export interface PanelProps {
  recipe: Recipe;
  /** Show a recipe on the way. */
  onMove: (recipe: Recipe) => void;
  /** Keep a recipe. */
  onSettle: (recipe: Recipe) => void;
}
