import type { Recipe } from "../../api/generated";

/** A change that the server has not kept yet, as the browser holds it over a reload. */
export interface Draft {
  recipe: Recipe;
  /** The revision that it was made from. */
  revision: number;
}

const PREFIX = "echelle change ";

/** Hold a change until it is kept. */
export function holdDraft(comparison: string, draft: Draft): void {
  try {
    localStorage.setItem(PREFIX + comparison, JSON.stringify(draft));
  } catch {
    // A full or closed storage: the change stays on the page.
  }
}

/** The change that was not kept when the page was left; null where none was. */
export function heldDraft(comparison: string): Draft | null {
  try {
    return JSON.parse(localStorage.getItem(PREFIX + comparison) ?? "null") as Draft | null;
  } catch {
    return null;
  }
}

/** The change is kept, or given up. */
export function dropDraft(comparison: string): void {
  try {
    localStorage.removeItem(PREFIX + comparison);
  } catch {
    // There was none.
  }
}

/** Nothing of this person's stays in the browser. */
export function dropAllDrafts(): void {
  try {
    for (const key of Object.keys(localStorage)) if (key.startsWith(PREFIX)) localStorage.removeItem(key);
  } catch {
    // There was none.
  }
}
