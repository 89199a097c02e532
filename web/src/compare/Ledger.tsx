import type { LaneReadings, Scene } from "../api/generated";

interface Reading {
  name: string;
  show: (lane: LaneReadings, places: number) => string;
  full: (lane: LaneReadings) => string;
}

function fixed(value: number | null, places: number): string {
  if (value === null) return "–";
  const large = value !== 0 && (Math.abs(value) >= 1e7 || Math.abs(value) < 10 ** (-places - 2));
  return (large ? value.toPrecision(3) : value.toFixed(places)).replace("-", "−");
}

function full(...values: (number | null)[]): string {
  return values.map((value) => value ?? "–").join("  ");
}

const READINGS: Reading[] = [
  { name: "Median", show: (l, p) => fixed(l.median, p), full: (l) => full(l.median) },
  {
    name: "Quartiles",
    show: (l, p) => (l.q1 === null ? "–" : `${fixed(l.q1, p)} – ${fixed(l.q3, p)}`),
    full: (l) => full(l.q1, l.q3),
  },
  {
    name: "Mean ± SD",
    show: (l, p) => (l.sd === null ? fixed(l.mean, p) : `${fixed(l.mean, p)} ± ${fixed(l.sd, p)}`),
    full: (l) => full(l.mean, l.sd),
  },
  { name: "Beyond", show: (l) => String(l.beyond), full: (l) => `${l.beyond} values beyond the fences` },
];

/** Decimals for reading: as the data are written, one more where they are whole. */
function placesOf(scene: Scene): number {
  if (scene.decimals > 0) return Math.min(scene.decimals, 4);
  return scene.readings.some((lane) => Math.abs(lane.median ?? 0) >= 1000) ? 0 : 1;
}

/** The numbers of each lane, each row level with its lane. */
export function LedgerBeside({ scene, scale }: { scene: Scene; scale: number }) {
  const top = (scene.panels[0]?.box[1] ?? 0) * scale;
  const columns = "grid grid-cols-[3.4rem_1.3fr_1.15fr_3rem] gap-x-3 text-right";
  return (
    <div
      role="table"
      aria-label="Readings"
      className="relative min-w-[300px] flex-1"
      style={{ height: scene.height * scale }}
    >
      <div
        role="row"
        className={`${columns} absolute inset-x-0 items-end border-b-2 border-muted pb-1 text-[12px] text-muted`}
        style={{ bottom: `calc(100% - ${top}px)` }}
      >
        {READINGS.map((reading) => (
          <span role="columnheader" key={reading.name}>
            {reading.name}
          </span>
        ))}
      </div>
      {scene.readings.map((readings) => {
        const lane = scene.lanes.find((l) => l.key === readings.lane);
        if (!lane) return null;
        return (
          <div
            role="row"
            key={lane.key}
            aria-label={lane.name}
            className={`${columns} number absolute inset-x-0 -translate-y-1/2 text-[12.5px] tracking-[-0.02em] whitespace-nowrap`}
            style={{ top: ((lane.start + lane.end) / 2) * scale }}
          >
            {READINGS.map((reading) => (
              <span role="cell" key={reading.name} title={reading.full(readings)} data-reading={reading.name}>
                {reading.show(readings, placesOf(scene))}
              </span>
            ))}
          </div>
        );
      })}
    </div>
  );
}

/** The numbers of each lane under it, where lanes run up. */
export function LedgerUnder({ scene, scale }: { scene: Scene; scale: number }) {
  const few = scene.lanes.length <= 12;
  if (!few) return <LedgerList scene={scene} />;
  const width = ((scene.panels[0]?.box[2] ?? 0) / Math.max(scene.lanes.length, 1)) * scale;
  return (
    <div role="table" aria-label="Readings" className="mt-2" style={{ width: scene.width * scale }}>
      {READINGS.map((reading) => (
        <div role="row" key={reading.name} className="relative h-6 border-t border-hairline text-[12.5px]">
          <span role="rowheader" className="absolute left-0 bg-sheet pr-1 text-[11.5px] text-muted">
            {reading.name}
          </span>
          {scene.readings.map((readings) => {
            const lane = scene.lanes.find((l) => l.key === readings.lane);
            if (!lane) return null;
            return (
              <span
                role="cell"
                key={lane.key}
                title={reading.full(readings)}
                data-reading={reading.name}
                className="number absolute -translate-x-1/2 text-center whitespace-nowrap"
                style={{ left: ((lane.start + lane.end) / 2) * scale, width }}
              >
                {reading.show(readings, placesOf(scene))}
              </span>
            );
          })}
        </div>
      ))}
    </div>
  );
}

/** A plain list where there are too many lanes to stand under. */
function LedgerList({ scene }: { scene: Scene }) {
  return (
    <table className="mt-3 w-full text-right text-[12.5px]" aria-label="Readings">
      <thead className="border-b-2 border-muted text-muted">
        <tr>
          <th className="text-left font-normal">Lane</th>
          {READINGS.map((reading) => (
            <th key={reading.name} className="font-normal">
              {reading.name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody className="number">
        {scene.readings.map((readings) => (
          <tr key={readings.lane} className="border-b border-hairline">
            <th className="text-left font-normal">{scene.lanes.find((l) => l.key === readings.lane)?.name}</th>
            {READINGS.map((reading) => (
              <td key={reading.name} title={reading.full(readings)} data-reading={reading.name}>
                {reading.show(readings, placesOf(scene))}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
