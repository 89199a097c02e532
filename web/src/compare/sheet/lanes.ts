import type { Recipe, Scene } from "../../api/generated";

/** A group's strip: its place, its level, and where its name stands on the sheet (left, top, right, bottom in points). */
export interface NamedSlot {
  slot: number;
  level: string;
  name: string;
  box: [number, number, number, number];
}

/** The names of the lanes as they stand on the sheet; one for each group. */
export function namedSlots(scene: Scene): NamedSlot[] {
  const slots = new Map<number, NamedSlot>();
  for (const part of scene.parts) {
    if (part.part !== "text" || (part.role !== "lane-label" && part.role !== "lane-count")) continue;
    const lane = scene.lanes.find((lane) => lane.key === part.lane || `slot${lane.slot + 1}` === part.lane);
    if (!lane || lane.group === null) continue;
    const [left, top, right, bottom] = part.box;
    const old = slots.get(lane.slot);
    if (!old && part.role === "lane-count") continue;
    const box = old?.box ?? [left, top, right, bottom];
    slots.set(lane.slot, {
      slot: lane.slot,
      level: lane.group,
      name: old ? (part.role === "lane-label" ? `${old.name} ${part.text}` : old.name) : part.text,
      box: [Math.min(box[0], left), Math.min(box[1], top), Math.max(box[2], right), Math.max(box[3], bottom)],
    });
  }
  return [...slots.values()].sort((a, b) => a.slot - b.slot);
}

/** The groups in the order shown; of several measures the columns. */
export function levelsShown(scene: Scene): string[] {
  const bySlot = [...scene.lanes].sort((a, b) => a.slot - b.slot);
  return [...new Set(bySlot.map((lane) => lane.group).filter((group) => group !== null))];
}

/** The recipe with its groups, or its measures, in another order. */
export function inOrder(recipe: Recipe, levels: string[]): Recipe {
  if (recipe.groups) return { ...recipe, groups: { ...recipe.groups, order: levels, sorted: "by hand" } };
  const columns = [...recipe.measure.columns].sort((a, b) => levels.indexOf(plain(a)) - levels.indexOf(plain(b)));
  return { ...recipe, measure: { ...recipe.measure, columns } };
}

function plain(heading: string): string {
  return heading.replace(/ \([^()]*\)$/, "");
}

/** The recipe with a group under another name; an empty name gives it its own back. */
export function renamed(recipe: Recipe, level: string, name: string): Recipe {
  if (!recipe.groups) return recipe;
  const { [level]: _, ...others } = recipe.groups.labels;
  const labels = name && name !== level ? { ...others, [level]: name } : others;
  return { ...recipe, groups: { ...recipe.groups, labels } };
}
