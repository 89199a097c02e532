import type { Recipe } from "../../api/generated";
import { PickRow } from "../../ui/PickRow";
import { useFigureOptions } from "../useFigureOptions";

type Own = Recipe["own_look"];

/** Which colours levels take, one after the other; the look's own where nothing is chosen. */
export function ColourSequence({
  own,
  onSettle,
}: {
  own: Own;
  onSettle: (colours: Pick<Own, "lane_colours" | "rising_colours">) => void;
}) {
  const sequences = useFigureOptions()?.sequences ?? [];
  const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
  const now = sequences.find(({ colours, rising }) =>
    same(own[rising ? "rising_colours" : "lane_colours"], colours),
  );
  const shown = now?.colours ?? own.rising_colours ?? own.lane_colours ?? [];
  return (
    <div className="grid gap-1" data-path="own_look.lane_colours own_look.rising_colours">
      <PickRow
        name="Colours in turn"
        value={now?.name ?? null}
        options={sequences.map(({ name }) => name)}
        nothing={shown.length && !now ? "its own" : "as the look"}
        onPick={(name) => {
          const chosen = sequences.find((sequence) => sequence.name === name);
          onSettle({
            lane_colours: chosen && !chosen.rising ? chosen.colours : null,
            rising_colours: chosen?.rising ? chosen.colours : null,
          });
        }}
      />
      {shown.length > 0 && (
        <svg viewBox={`0 0 ${shown.length} 1`} preserveAspectRatio="none" className="h-2 w-full" aria-hidden="true">
          {shown.map((colour, place) => (
            <rect key={`${colour}${place}`} x={place} width={1} height={1} fill={colour} />
          ))}
        </svg>
      )}
    </div>
  );
}
