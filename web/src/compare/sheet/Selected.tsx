import { useMemo } from "react";
import type { RowsOfFigure, Scene } from "../../api/generated";
import { placesOf } from "../../scene/places";

const MOST_RINGS = 3000;

/** Rings around the selected rows, in whatever form the figure has. */
export function Selected({ scene, scale, rows }: { scene: Scene; scale: number; rows: RowsOfFigure }) {
  const spots = useMemo(() => [...placesOf(scene, rows.keys, rows.lanes, rows.values)], [scene, rows]);
  return (
    <svg
      data-testid="selected"
      className="pointer-events-none absolute inset-0 fill-accent/40 stroke-ink"
      width={scene.width * scale}
      height={scene.height * scale}
      viewBox={`0 0 ${scene.width} ${scene.height}`}
      aria-hidden="true"
    >
      {spots.slice(0, MOST_RINGS).map(([key, spot]) => (
        <circle key={key} data-row={key} cx={spot.x} cy={spot.y} r={3} strokeWidth={0.8} />
      ))}
    </svg>
  );
}
