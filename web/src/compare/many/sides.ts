import type { ComparisonState, Recipe, UseVersion } from "../../api/generated";
import type { OpenDialog } from "../BenchDialogs";

/** Pinned states side by side. */
export function statesSideBySide(comparison: ComparisonState, pinned: number[]): OpenDialog {
  const wordsOf = (number: number) => {
    const entry = comparison.trail.find((state) => state.number === number);
    return entry ? entry.name || entry.words : "";
  };
  const sides = pinned.map((entry) => ({ entry, recipe: null, words: wordsOf(entry) }));
  return { title: "States side by side", sides };
}

const MOST_VERSIONS = 6;

/** The last versions of a comparison side by side. */
export function versionsSideBySide(versions: UseVersion[]): OpenDialog {
  const sides = versions.slice(-MOST_VERSIONS).map(({ id, head, version }) => {
    return { comparison: id, entry: head, recipe: null, words: `Version ${version}` };
  });
  const which = versions.length > MOST_VERSIONS ? `The last ${MOST_VERSIONS} versions` : "Versions";
  return { title: `${which} side by side`, sides };
}

/** The figure with and without the rows that it leaves out. */
export function withAndWithout(comparison: ComparisonState, recipe: Recipe): OpenDialog {
  const entry = comparison.head;
  return {
    title: "With and without what is left out",
    sides: [
      { entry, recipe: { ...recipe, left_out: [] }, words: "all rows" },
      { entry, recipe, words: `without ${recipe.left_out.length} left out` },
    ],
  };
}
