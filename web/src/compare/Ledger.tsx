import { DropdownMenu } from "radix-ui";
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

interface ListProps {
  scene: Scene;
  onRow: (row: number) => void;
}

interface LevelProps extends ListProps {
  scale: number;
}

/** A reading; the count of values beyond the fences opens a list of their rows. */
function Shown(props: { reading: Reading; lane: LaneReadings; places: number; onRow: (row: number) => void }) {
  const { reading, lane, places, onRow } = props;
  const rows = lane.outliers.filter((outlier) => outlier.row !== null);
  const text = reading.show(lane, places);
  if (reading.name !== "Beyond" || rows.length === 0) return <>{text}</>;
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label={`${text} values beyond`}
        className="cursor-pointer underline decoration-hairline underline-offset-4"
      >
        {text}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          className="z-30 max-h-72 overflow-y-auto rounded-lg bg-sheet p-1 text-[13px] shadow-float"
        >
          {rows.map((outlier) => (
            <DropdownMenu.Item
              key={outlier.row}
              onSelect={() => onRow(outlier.row as number)}
              className="flex cursor-pointer justify-between gap-6 rounded px-3 py-1 outline-none data-[highlighted]:bg-bench"
            >
              <span>row {outlier.row}</span>
              <span className="number">{outlier.value}</span>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
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

/** Decimals for reading: as the data are written, one more where they are whole, and no more than four digits in all. */
function placesOf(scene: Scene): number {
  const largest = Math.max(...scene.readings.map((lane) => Math.max(Math.abs(lane.mean ?? 0), lane.sd ?? 0)), 0);
  const room = largest > 0 ? 3 - Math.floor(Math.log10(largest)) : 3;
  return Math.max(0, Math.min(scene.decimals || 1, room, 3));
}

/** Whether every lane has a strip of its own, so that numbers can stand level with it. */
function standsApart(scene: Scene): boolean {
  const ends = scene.lanes.map((lane) => [lane.start, lane.end]).sort(([a = 0], [b = 0]) => a - b);
  return ends.every(([start = 0], place) => place === 0 || start >= (ends[place - 1]?.[1] ?? 0) - 0.01);
}

/** Whether numbers under the lanes would run into one another, or into their headings at the left. */
function tooClose(scene: Scene, scale: number): boolean {
  const middles = scene.lanes.map((lane) => ((lane.start + lane.end) / 2) * scale).sort((a, b) => a - b);
  const first = middles[0] ?? 0;
  return first < 118 || middles.some((middle, place) => place > 0 && middle - (middles[place - 1] ?? 0) < 100);
}

/** Where the numbers stand: beside lanes that run across, under lanes that run up, or in a list of their own. */
export function ledgerPlace(scene: Scene, scale: number): "beside" | "under" | "list" {
  if (!standsApart(scene)) return "list";
  if (scene.panels[0]?.scale.direction !== "y") return "beside";
  return scene.lanes.length > 12 || tooClose(scene, scale) ? "list" : "under";
}

/** The numbers of each lane, each row level with its lane. */
export function LedgerBeside({ scene, scale, onRow }: LevelProps) {
  const top = (scene.panels[0]?.box[1] ?? 0) * scale;
  const columns = "grid grid-cols-[3rem_minmax(0,1fr)_minmax(0,1fr)_2.9rem] gap-x-2 text-right";
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
                <Shown reading={reading} lane={readings} places={placesOf(scene)} onRow={onRow} />
              </span>
            ))}
          </div>
        );
      })}
    </div>
  );
}

/** The numbers of each lane under it, where lanes run up. */
export function LedgerUnder({ scene, scale, onRow }: LevelProps) {
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
                <Shown reading={reading} lane={readings} places={placesOf(scene)} onRow={onRow} />
              </span>
            );
          })}
        </div>
      ))}
    </div>
  );
}

/** A lane's name, with its panel where there are several. */
function laneWords(scene: Scene, key: string): string {
  const lane = scene.lanes.find((one) => one.key === key);
  const panel = scene.panels.find((one) => one.key === lane?.panel);
  return [panel?.name, lane?.name].filter(Boolean).join(" · ");
}

/** A plain list where lanes are many, or lie over one another or in several panels. */
export function LedgerList({ scene, onRow }: ListProps) {
  return (
    <table
      className="mx-auto mt-3 w-full max-w-[44rem] text-right text-[12.5px] whitespace-nowrap"
      aria-label="Readings"
    >
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
          <tr key={readings.lane} aria-label={laneWords(scene, readings.lane)} className="border-b border-hairline">
            <th className="text-left font-sans font-normal">{laneWords(scene, readings.lane)}</th>
            {READINGS.map((reading) => (
              <td key={reading.name} title={reading.full(readings)} data-reading={reading.name}>
                <Shown reading={reading} lane={readings} places={placesOf(scene)} onRow={onRow} />
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
