import type { ColumnSummary, FigureOptions, Recipe, Scene } from "../src/api/generated";
import made from "./generated/figures.json";

export interface Drawn {
  recipe: Recipe;
  scene: Scene;
}

/** Figures that the core drew of one small table; row ids are places in `values`, counted from 1. */
export const figures = made as unknown as Record<"box" | "strip" | "up" | "split" | "histogram", Drawn> & {
  whole: Drawn & { columns: ColumnSummary[]; style: unknown };
  values: number[];
  arms: string[];
  /** Numbers, decimals, and how files write them. */
  read: [number, number, string][];
  options: FigureOptions;
  columns: ColumnSummary[];
  steps: Record<string, StepModel>;
};

/** What the tests need of a step's JSON Schema. */
interface StepModel {
  properties: Record<string, { const?: string; enum?: string[]; anyOf?: { enum?: string[] }[] }>;
  required?: string[];
}

/** Columns of a table in small, and the JSON Schema of every step. */
export const { columns, steps: stepModels } = figures;

/** The lane of a level. */
export function laneOf(scene: Scene, level: string): Scene["lanes"][number] {
  const found = scene.lanes.find((lane) => lane.group === level);
  if (!found) throw new Error(`no lane of ${level}`);
  return found;
}
