import type { LaneReadings, Scene } from "../../api/generated";
import { laneWords } from "../ledger/Ledger";
import { fixed, placesOf } from "../ledger/readings";
import { letter } from "./letter";

const READINGS: [string, (lane: LaneReadings) => number | null][] = [
  ["n", (lane) => lane.n],
  ["Median", (lane) => lane.median],
  ["Mean", (lane) => lane.mean],
  ["SD", (lane) => lane.sd],
  ["Beyond", (lane) => lane.beyond],
];

/** Each lane's numbers in every figure; where they differ from the first one's they stand out. */
export function Differences({ scenes }: { scenes: Scene[] }) {
  const byName = scenes.map(
    (scene) => new Map(scene.readings.map((readings) => [laneWords(scene, readings.lane) || "all", readings])),
  );
  const names = [...new Set(byName.flatMap((lanes) => [...lanes.keys()]))];
  const places = Math.max(...scenes.map(placesOf));
  return (
    <table className="mt-3 w-full rounded bg-sheet text-right text-[12.5px]" aria-label="Differences">
      <thead className="text-muted">
        <tr>
          <th rowSpan={2} className="px-3 text-left align-bottom font-normal">
            Lane
          </th>
          {READINGS.map(([name]) => (
            <th
              key={name}
              colSpan={scenes.length}
              className="border-l border-hairline px-2 text-center font-normal"
            >
              {name}
            </th>
          ))}
        </tr>
        <tr className="border-b border-muted">
          {READINGS.map(([name]) =>
            scenes.map((_, i) => (
              <th key={name + letter(i)} className={`px-2 font-normal ${i ? "" : "border-l border-hairline"}`}>
                {letter(i)}
              </th>
            )),
          )}
        </tr>
      </thead>
      <tbody className="number">
        {names.map((name) => (
          <tr key={name} className="border-b border-hairline">
            <th className="px-3 text-left font-sans font-normal">{name}</th>
            {READINGS.map(([reading, of]) =>
              byName.map((lanes, i) => {
                const lane = lanes.get(name);
                const value = lane ? of(lane) : null;
                const before = byName[0]?.get(name);
                const differs = i > 0 && value !== (before ? of(before) : null);
                const whole = reading === "n" || reading === "Beyond";
                return (
                  <td
                    key={reading + letter(i)}
                    title={value === null ? "" : String(value)}
                    className={`px-2 ${i ? "" : "border-l border-hairline"} ${differs ? "bg-accent/25 font-bold" : ""}`}
                  >
                    {fixed(value, whole ? 0 : places)}
                  </td>
                );
              }),
            )}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
