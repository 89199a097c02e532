import type { Paint, PointsPart } from "../api/generated";
import drawn from "../generated/outlines.json";

interface Stroke {
  corners: number[][];
  closed: boolean;
}

/** Each shape's strokes, of diameter 1 around the origin; a circle has none. */
export const OUTLINES = drawn.outlines as Record<PointsPart["shape"], Stroke[]>;

/** Lengths of dashes and gaps in points. */
export const DASHES = drawn.dashes as Record<Paint["dash"], number[]>;

/** A shape at a place as SVG path data. */
export function outline(shape: PointsPart["shape"], x: number, y: number, size: number): string {
  return OUTLINES[shape]
    .map(({ corners, closed }) => {
      const spots = corners.map(([dx = 0, dy = 0]) => `${x + dx * size} ${y + dy * size}`);
      return `M${spots.join("L")}${closed ? "Z" : ""}`;
    })
    .join("");
}
