import type { Recipe, Scene, TextPart } from "../../api/generated";
import { axisWords, withValue } from "../recipe";

type Box = [number, number, number, number];

/** A text of the sheet that can be written anew where it stands. */
export interface Written {
  key: string;
  name: string;
  box: Box;
  turned: boolean;
  size: number;
  /** It is not on the sheet yet, and would stand there. */
  missing: boolean;
  /** As it is written, with marks and places. */
  value: string;
  /** The recipe with another text; an empty one gives the usual back. */
  change: (text: string) => Recipe;
}

const NAMES = {
  title: "Title",
  subtitle: "Subtitle",
  caption: "Caption",
  source: "Source",
  credit: "Credit",
} as const;

/** The texts of the sheet that someone may word: words, names of panels and of subgroups. Lanes have their own names. */
export function writtenOn(scene: Scene, recipe: Recipe): Written[] {
  const lines = new Map<string, TextPart[]>();
  for (const part of scene.parts) {
    if (part.part !== "text") continue;
    const key = placeOf(part);
    if (key) lines.set(key, [...(lines.get(key) ?? []), part]);
  }
  const texts = [...lines].flatMap(([key, parts]) => {
    const text = inRecipe(key, parts.map((part) => part.text).join(" "), scene, recipe);
    const [first] = parts;
    if (!text || !first) return [];
    const ends = (side: 0 | 1 | 2 | 3, pick: typeof Math.min) => pick(...parts.map((part) => part.box[side]));
    const box: Box = [ends(0, Math.min), ends(1, Math.min), ends(2, Math.max), ends(3, Math.max)];
    return [{ ...text, key, box, turned: first.turn !== 0, size: first.size, missing: false }];
  });
  if (lines.has("title")) return texts;
  const title = inRecipe("title", "", scene, recipe);
  const box: Box = [0, 0, scene.width, 0];
  return title ? [...texts, { ...title, key: "title", box, turned: false, size: 10, missing: true }] : texts;
}

/** Lines of one text share a place; "" for what nobody words. */
function placeOf(part: TextPart): string {
  if (part.role in NAMES) return part.layer === "" ? part.role : "";
  if (part.role === "groups-title") return "groups";
  if (part.role === "axis-title") return "measure";
  if (part.role === "panel-title") return `panel ${part.panel}`;
  return part.role === "key-label" ? `key ${part.key}` : "";
}

function inRecipe(
  key: string,
  shown: string,
  scene: Scene,
  recipe: Recipe,
): Pick<Written, "name" | "value" | "change"> | null {
  const word = (path: keyof Recipe["words"], name: string, value: string) => ({
    name,
    value,
    change: (text: string) => withValue(recipe, ["words", path], text),
  });
  if (key in NAMES) {
    const role = key as keyof typeof NAMES;
    return word(role, NAMES[role], recipe.words[role]);
  }
  if (key === "groups") return word("groups", "Groups label", recipe.words.groups || shown);
  if (key === "measure") {
    const usual = recipe.differences?.drawn ? "" : shown;
    const own = axisWords(recipe);
    return word(own, "Axis label", recipe.words[own] || usual);
  }
  if (key.startsWith("panel ")) {
    const level = scene.panels.find((panel) => `panel ${panel.key}` === key)?.level;
    const role = (["wrapped", "across", "down"] as const).find((way) => recipe.panels[way]);
    return level == null || !role ? null : label(recipe, ["panels", role], level, `Panel ${shown}`);
  }
  const level = scene.lanes.find((lane) => lane.subgroup !== null && namedAs(recipe, lane.subgroup) === shown);
  return level?.subgroup == null ? null : label(recipe, ["subgroups"], level.subgroup, `Subgroup ${shown}`);
}

function namedAs(recipe: Recipe, level: string): string {
  return recipe.subgroups?.labels[level] ?? level;
}

function label(recipe: Recipe, path: string[], level: string, name: string) {
  const role = path.reduce<unknown>((place, key) => (place as Record<string, unknown> | null)?.[key], recipe);
  // The sheet may still show what the recipe has just left.
  if (!role) return null;
  const { [level]: old, ...others } = (role as { labels: Record<string, string> }).labels;
  const change = (text: string) =>
    withValue(recipe, [...path, "labels"], text && text !== level ? { ...others, [level]: text } : others);
  return { name, value: old ?? level, change };
}
