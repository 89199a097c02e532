import type { LaneReadings, Scene, SceneLane } from "../../api/generated";
import { placeOf } from "../../scene/scale";
import { fixed, placesOf } from "../ledger/readings";

const NAMES = [
  ["min", "min"],
  ["q1", "Q1"],
  ["median", "median"],
  ["q3", "Q3"],
  ["max", "max"],
] as const;
const SIZE = 7;

/** Places pushed apart until neighbours have room, moved as little as that takes. */
export function spread(places: number[], room: number, low: number, high: number): number[] {
  const out = [...places];
  for (let i = 1; i < out.length; i++) out[i] = Math.max(out[i] as number, (out[i - 1] as number) + room);
  const over = (out[out.length - 1] ?? 0) - high;
  if (over > 0) {
    out[out.length - 1] = high;
    for (let i = out.length - 2; i >= 0; i--) out[i] = Math.min(out[i] as number, (out[i + 1] as number) - room);
  }
  return out.map((place) => Math.max(place, low));
}

interface Props {
  scene: Scene;
  scale: number;
  lane: SceneLane;
  readings: LaneReadings;
}

/** The five numbers of a lane beside it, each with a line to the place that it names. */
export function Readout({ scene, scale, lane, readings }: Props) {
  const panel = scene.panels.find((panel) => panel.key === lane.panel);
  if (!panel) return null;
  const x = panel.scale.direction === "x";
  const [left, top, width, height] = panel.box;
  const decimals = placesOf(scene);
  const known = NAMES.flatMap(([key, name]) => {
    const value = readings[key];
    return value === null ? [] : [{ name, text: fixed(value, decimals), at: placeOf(panel.scale, value) }];
  });
  const inside = known
    .filter(({ at }) => (x ? at >= left - 1 && at <= left + width + 1 : at >= top - 1 && at <= top + height + 1))
    .sort((a, b) => a.at - b.at);
  const room = x ? 34 : SIZE * 2.3;
  const [low, high] = x ? [left + 12, left + width + 20] : [top + SIZE, top + height];
  const label = spread(
    inside.map(({ at }) => at),
    room,
    low,
    high,
  );
  const middle = (lane.start + lane.end) / 2;
  // Above a lane that runs across, at the right of one that runs up.
  const line = x ? Math.max(lane.start - 2, SIZE * 2.4) : lane.end + 4;
  return (
    <svg
      data-testid="readout"
      className="pointer-events-none absolute inset-0 overflow-visible"
      width={scene.width * scale}
      height={scene.height * scale}
      viewBox={`0 0 ${scene.width} ${scene.height}`}
      aria-hidden="true"
    >
      {inside.map(({ name, text, at }, i) => {
        const to = label[i] as number;
        const [x1, y1, x2, y2] = x ? [at, middle, to, line] : [middle, at, line, to];
        const wide = Math.max(name.length, text.length) * SIZE * 0.56 + 4;
        const box = x ? { x: to - wide / 2, y: line - SIZE * 2.3 } : { x: line, y: to - SIZE * 1.15 };
        return (
          <g key={name}>
            <line x1={x1} y1={y1} x2={x2} y2={y2} className="stroke-ink" strokeWidth={0.6} />
            <circle cx={x1} cy={y1} r={1.3} className="fill-ink" />
            <rect {...box} width={wide} height={SIZE * 2.3} rx={2} className="fill-ink" opacity={0.92} />
            <text
              x={box.x + wide / 2}
              y={box.y + SIZE * 0.95}
              fontSize={SIZE * 0.86}
              textAnchor="middle"
              className="fill-sheet/80"
            >
              {name}
            </text>
            <text
              x={box.x + wide / 2}
              y={box.y + SIZE * 2}
              fontSize={SIZE}
              textAnchor="middle"
              className="number fill-sheet"
            >
              {text}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
