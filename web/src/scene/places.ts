import type { Scene, SceneLane } from "../api/generated";
import { columnsOf, hiddenOf, leaves } from "./points";
import { placeOf, valueAtPlace } from "./scale";

export interface Spot {
  x: number;
  y: number;
}

export interface Rectangle {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** The lane at a place on the sheet (in points); null outside of all. */
export function laneAt(scene: Scene, { x, y }: Spot): SceneLane | null {
  for (const panel of scene.panels) {
    const [left, top, width, height] = panel.box;
    if (x < left || x > left + width || y < top || y > top + height) continue;
    const across = panel.scale.direction === "x" ? y : x;
    const inside = (lane: SceneLane) => lane.panel === panel.key && across >= lane.start && across <= lane.end;
    return scene.lanes.find(inside) ?? null;
  }
  return null;
}

/** Rows whose points lie in a rectangle, whatever lane or panel they are in. */
export function rowsIn(scene: Scene, within: Rectangle): number[] {
  const places = new Set<number>();
  for (const part of leaves(scene.parts)) {
    if (part.part !== "points" || !part.lane) continue;
    const { x, y, rows } = columnsOf(part.columns);
    const hidden = hiddenOf(part);
    for (let i = 0; i < rows.length; i++) {
      const [px, py] = [x[i] as number, y[i] as number];
      const inside = px >= within.left && px <= within.right && py >= within.top && py <= within.bottom;
      if (inside && hidden[i] !== 1 && (rows[i] as number) > 0) places.add(rows[i] as number);
    }
  }
  return [...places];
}

/** The parts of lanes that a rectangle covers, as spans of values. */
export function spansIn(scene: Scene, within: Rectangle): { lane: string; low: number; high: number }[] {
  return scene.panels.flatMap((panel) => {
    const x = panel.scale.direction === "x";
    const [left, top, width, height] = panel.box;
    const misses =
      within.right < left || within.left > left + width || within.bottom < top || within.top > top + height;
    if (misses) return [];
    const ends = (x ? [within.left, within.right] : [within.top, within.bottom]).map((place) =>
      valueAtPlace(panel.scale, place),
    );
    const [from, to] = x ? [within.top, within.bottom] : [within.left, within.right];
    const [low, high] = [Math.min(...ends), Math.max(...ends)];
    return scene.lanes
      .filter((lane) => lane.panel === panel.key && lane.end >= from && lane.start <= to)
      .map((lane) => ({ lane: lane.key, low, high }));
  });
}

/** Whether a figure shows single rows as points. */
export function showsRows(scene: Scene): boolean {
  for (const part of leaves(scene.parts))
    if (part.part === "points" && part.role === "point" && part.lane) return true;
  return false;
}

/** Where rows stand: on their points, else at their value in the middle of their lane. */
export function placesOf(
  scene: Scene,
  keys: number[],
  lanes: string[],
  values: (number | null)[],
): Map<number, Spot> {
  const wanted = new Set(keys);
  const places = new Map<number, Spot>();
  for (const part of leaves(scene.parts)) {
    if (part.part !== "points" || !part.lane) continue;
    const { x, y, rows } = columnsOf(part.columns);
    for (let i = 0; i < rows.length; i++) {
      const row = rows[i] as number;
      if (wanted.has(row)) places.set(row, { x: x[i] as number, y: y[i] as number });
    }
  }
  keys.forEach((key, i) => {
    const lane = scene.lanes.find((lane) => lane.key === lanes[i]);
    const panel = scene.panels.find((panel) => panel.key === lane?.panel);
    const value = values[i];
    if (places.has(key) || !lane || !panel || value === null || value === undefined) return;
    const along = placeOf(panel.scale, value);
    const [c0, c1] = panel.scale.range;
    if (along < Math.min(c0, c1) - 1 || along > Math.max(c0, c1) + 1) return;
    const middle = (lane.start + lane.end) / 2;
    places.set(key, panel.scale.direction === "x" ? { x: along, y: middle } : { x: middle, y: along });
  });
  return places;
}
