import { DropdownMenu } from "radix-ui";
import type { LaneReadings, Recipe, Scene } from "../../api/generated";
import { inOrder, levelsShown } from "../sheet/lanes";
import { placesOf, type Reading, readingsOf, sortedBy } from "./readings";

export interface LedgerProps {
  scene: Scene;
  recipe: Recipe;
  onRow: (row: number) => void;
  onSettle: (recipe: Recipe) => void;
}

interface LevelProps extends LedgerProps {
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

/** A reading's name: a press sorts the lanes by it, highest first, and the other way round. */
function Name({ reading, scene, recipe, onSettle }: LedgerProps & { reading: Reading }) {
  const sort = () => {
    const down = sortedBy(scene, reading, true);
    const there = JSON.stringify(levelsShown(scene)) === JSON.stringify(down);
    onSettle(inOrder(recipe, there ? sortedBy(scene, reading, false) : down));
  };
  return (
    <button
      type="button"
      className="hover:text-ink hover:underline"
      title={`Sort the lanes by ${reading.name}`}
      onClick={sort}
    >
      {reading.name}
    </button>
  );
}

/** About the width of a heading's letter and the height of its lines, in CSS pixels. */
const LETTER = 6;
const LINE = 18;
const MOST_LINES = 3;

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

/** Whether lanes that run across are too close for a line of numbers each. */
function tooLow(scene: Scene, scale: number): boolean {
  const middles = scene.lanes.map((lane) => ((lane.start + lane.end) / 2) * scale).sort((a, b) => a - b);
  return middles.some((middle, place) => place > 0 && middle - (middles[place - 1] ?? 0) < 13);
}

/** Where the numbers stand: beside lanes that run across, under lanes that run up, or in a list of their own. */
export function ledgerPlace(scene: Scene, scale: number): "beside" | "under" | "list" {
  if (!standsApart(scene)) return "list";
  if (scene.panels[0]?.scale.direction !== "y") return tooLow(scene, scale) ? "list" : "beside";
  return scene.lanes.length > 12 || tooClose(scene, scale) ? "list" : "under";
}

/** How much room the headings need above the figure, in CSS pixels. */
export function headingRoom(scene: Scene, recipe: Recipe, scale: number): number {
  const each = readingsOf(scene, recipe.ledger).map(({ name, wide }) => Math.ceil((name.length * LETTER) / wide));
  const lines = Math.min(MOST_LINES, Math.max(...each));
  return Math.max(0, lines * LINE + 6 - (scene.panels[0]?.box[1] ?? 0) * scale);
}

/** Between columns, in CSS pixels: where there is room, and on a narrow page. */
const GAPS = [12, 8];

/** How wide the ledger beside the lanes is, in CSS pixels. */
export function ledgerWidth(scene: Scene, recipe: Recipe, gap: number): number {
  return readingsOf(scene, recipe.ledger).reduce((sum, reading) => sum + reading.wide + gap, 14);
}

/** The widest gap between columns with which figure and ledger stand side by side; none if they do not. */
export function ledgerGap(scene: Scene, recipe: Recipe, room: number, scale: number): number | undefined {
  return GAPS.find((gap) => scene.width * scale + ledgerWidth(scene, recipe, gap) <= room + 2);
}

/** The numbers of each lane, each row level with its lane. */
export function LedgerBeside(props: LevelProps & { gap: number }) {
  const { scene, scale, recipe, onRow, gap } = props;
  const top = (scene.panels[0]?.box[1] ?? 0) * scale;
  const readings = readingsOf(scene, recipe.ledger);
  const gridTemplateColumns = readings.map(({ wide }) => `minmax(${wide}px, ${wide}fr)`).join(" ");
  const columns = { gridTemplateColumns, columnGap: gap };
  const row = "grid text-right absolute inset-x-0";
  return (
    <div
      role="table"
      aria-label="Readings"
      className="relative flex-1"
      style={{ height: scene.height * scale, minWidth: ledgerWidth(scene, recipe, gap) - 14 }}
    >
      <div
        role="row"
        className={`${row} items-end border-b-2 border-muted pb-1 text-[12px] text-muted`}
        style={{ ...columns, bottom: `calc(100% - ${top}px)` }}
      >
        {readings.map((reading) => (
          <span
            role="columnheader"
            key={reading.name}
            className="[&>button]:ml-auto [&>button]:line-clamp-3 [&>button]:text-right"
          >
            <Name {...props} reading={reading} />
          </span>
        ))}
      </div>
      {scene.readings.map((lane) => {
        const strip = scene.lanes.find((other) => other.key === lane.lane);
        if (!strip) return null;
        return (
          <div
            role="row"
            key={strip.key}
            aria-label={strip.name}
            className={`${row} number -translate-y-1/2 text-[12.5px] tracking-[-0.02em] whitespace-nowrap`}
            style={{ ...columns, top: ((strip.start + strip.end) / 2) * scale }}
          >
            {readings.map((reading) => (
              <span role="cell" key={reading.name} title={reading.full(lane)} data-reading={reading.name}>
                <Shown reading={reading} lane={lane} places={placesOf(scene)} onRow={onRow} />
              </span>
            ))}
          </div>
        );
      })}
    </div>
  );
}

/** The numbers of each lane under it, where lanes run up. */
export function LedgerUnder(props: LevelProps) {
  const { scene, scale, recipe, onRow } = props;
  const width = ((scene.panels[0]?.box[2] ?? 0) / Math.max(scene.lanes.length, 1)) * scale;
  return (
    <div role="table" aria-label="Readings" className="mt-2" style={{ width: scene.width * scale }}>
      {readingsOf(scene, recipe.ledger).map((reading) => (
        <div role="row" key={reading.name} className="relative h-6 border-t border-hairline text-[12.5px]">
          <span role="rowheader" className="absolute left-0 bg-sheet pr-1 text-[11.5px] text-muted">
            <Name {...props} reading={reading} />
          </span>
          {scene.readings.map((lane) => {
            const strip = scene.lanes.find((other) => other.key === lane.lane);
            if (!strip) return null;
            return (
              <span
                role="cell"
                key={strip.key}
                title={reading.full(lane)}
                data-reading={reading.name}
                className="number absolute -translate-x-1/2 text-center whitespace-nowrap"
                style={{ left: ((strip.start + strip.end) / 2) * scale, width }}
              >
                <Shown reading={reading} lane={lane} places={placesOf(scene)} onRow={onRow} />
              </span>
            );
          })}
        </div>
      ))}
    </div>
  );
}

/** A lane's name, with its panel where there are several. */
export function laneWords(scene: Scene, key: string): string {
  const lane = scene.lanes.find((lane) => lane.key === key);
  const panel = scene.panels.find((panel) => panel.key === lane?.panel);
  return [panel?.name, lane?.name].filter(Boolean).join(" · ");
}

/** A plain list where lanes are many, or lie over one another or in several panels. */
export function LedgerList(props: LedgerProps) {
  const { scene, recipe, onRow } = props;
  const readings = readingsOf(scene, recipe.ledger);
  return (
    <table
      className="mx-auto mt-3 w-full max-w-[44rem] text-right text-[12.5px] whitespace-nowrap"
      aria-label="Readings"
    >
      <thead className="border-b-2 border-muted text-muted">
        <tr>
          <th className="text-left font-normal">Lane</th>
          {readings.map((reading) => (
            <th key={reading.name} className="pl-3 font-normal">
              <Name {...props} reading={reading} />
            </th>
          ))}
        </tr>
      </thead>
      <tbody className="number">
        {scene.readings.map((lane) => (
          <tr key={lane.lane} aria-label={laneWords(scene, lane.lane)} className="border-b border-hairline">
            <th className="text-left font-sans font-normal">{laneWords(scene, lane.lane)}</th>
            {readings.map((reading) => (
              <td key={reading.name} className="pl-3" title={reading.full(lane)} data-reading={reading.name}>
                <Shown reading={reading} lane={lane} places={placesOf(scene)} onRow={onRow} />
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
