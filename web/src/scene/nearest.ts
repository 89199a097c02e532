import type { Scene } from "../api/generated";
import { columnsOf, hiddenOf, leaves } from "./points";

/** How far from a point's edge a click still means it, in points of the sheet. */
const REACH = 3;

/** The row of the point nearest to a place on the sheet (in points); null where none is near. Marks on top win ties. */
export function rowAt(scene: Scene, x: number, y: number): number | null {
  let best: { row: number; apart: number } | null = null;
  for (const part of leaves(scene.parts)) {
    if (part.part !== "points" || !part.lane) continue;
    const { x: xs, y: ys, rows } = columnsOf(part.columns);
    if (rows.length === 0) continue;
    const hidden = hiddenOf(part);
    const most = part.size / 2 + REACH;
    for (let i = 0; i < xs.length; i++) {
      if (hidden[i] === 1) continue;
      const apart = Math.hypot((xs[i] as number) - x, (ys[i] as number) - y);
      if (apart <= most && (best === null || apart <= best.apart)) best = { row: rows[i] as number, apart };
    }
  }
  return best && best.row > 0 ? best.row : null;
}

/** Where the point of a row stands on the sheet, in points; marks on top come first. */
export function placeOfRow(scene: Scene, row: number): { x: number; y: number } | null {
  let nearest: { x: number; y: number } | null = null;
  for (const part of leaves(scene.parts)) {
    if (part.part !== "points" || !part.lane) continue;
    const { x, y, rows } = columnsOf(part.columns);
    const at = rows.indexOf(row);
    if (at >= 0) nearest = { x: x[at] as number, y: y[at] as number };
  }
  return nearest;
}
