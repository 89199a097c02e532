import { useState } from "react";
import type { ColumnSummary, Offered, Recipe, Scene } from "../../api/generated";
import { Button } from "../../ui/Button";
import { placesOf } from "../ledger/readings";
import { withLayer } from "../recipe";
import { levelsShown } from "../sheet/lanes";
import { Evidence } from "./Evidence";
import { Laboratory } from "./Laboratory";
import { type Asked, Options } from "./Options";
import { Sizes } from "./Sizes";
import { useDifferences } from "./useDifferences";

const USUAL: Asked = {
  to: "reference",
  reference: null,
  level: 0.95,
  together: false,
  adjusted: "Holm",
  percentiles: [0.1, 0.9],
  paired_by: null,
  reduced: "mean",
  runs: null,
  control: null,
  limits: null,
  margin: null,
  seed: 41,
  resamples: 10_000,
};
interface Props {
  comparison: string;
  scene: Scene;
  recipe: Recipe;
  columns: ColumnSummary[];
  offered: Offered | undefined;
  onSettle: (recipe: Recipe) => void;
}

/** How large the differences are: a size with its uncertainty first, tests beside it as evidence, and what fits here. */
export function DifferencesPanel({ comparison, scene, recipe, columns, offered, onSettle }: Props) {
  const [name, setName] = useState("");
  const asked = recipe.differences ?? USUAL;
  const { data, error, isFetching } = useDifferences(comparison, recipe, true);
  const names = data?.pairs[0]?.estimates.map((line) => line.name) ?? [];
  const shown = names.includes(name)
    ? name
    : (data?.guide.fits.find((fit) => names.includes(fit)) ?? names[0] ?? "");
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-3 px-4 py-4">
      <Options
        asked={asked}
        levels={levelsShown(scene)}
        columns={columns}
        onChange={(change) => onSettle({ ...recipe, differences: { ...asked, ...change } })}
      />
      <DrawnChoice recipe={recipe} level={asked.level} offered={offered} onSettle={onSettle} />
      {error && <p className="text-warn">{error.message}.</p>}
      {!data && !error && <p className="text-muted">Computing…</p>}
      {data && (
        <div className={isFetching ? "opacity-60" : ""}>
          <Sizes data={data} names={names} shown={shown} places={placesOf(scene)} onName={setName} />
          <Evidence data={data} />
          <Laboratory
            data={data}
            places={placesOf(scene)}
            onGuide={(guide) => onSettle(withGuide(recipe, guide))}
          />
          <p className="mt-3 font-bold">What fits here: {data.guide.fits.join(", ")}.</p>
          {[...data.guide.why, ...data.remarks, data.guide.not_said].map((words) => (
            <p key={words} className="mt-1 text-[12.5px] text-muted">
              {words}
            </p>
          ))}
        </div>
      )}
    </div>
  );
}

/** The differences as a layer of the figure: added and taken away. */
function DrawnChoice(props: {
  recipe: Recipe;
  level: number;
  offered: Offered | undefined;
  onSettle: (recipe: Recipe) => void;
}) {
  const { recipe, level, offered, onSettle } = props;
  const drawn = recipe.layers.some((layer) => layer.layer === "difference");
  const offer = offered?.layers.find((one) => one.layer === "difference");
  if (!offer) return null;
  const draw = () => {
    const layers = recipe.layers.filter((layer) => layer.layer !== "difference");
    if (!drawn) onSettle(withLayer(recipe, offer, { level }));
    else if (layers.length) onSettle({ ...recipe, layers });
  };
  return (
    <Button look="quiet" className="justify-self-start !p-0" onClick={draw}>
      {drawn ? "Take them off the figure" : "Draw them on the figure"}
    </Button>
  );
}

function withGuide(recipe: Recipe, band: [number, number]): Recipe {
  const guide = { at: null, band, label: "reference limits", dash: "dashed" as const };
  return { ...recipe, guides: [...recipe.guides, guide] };
}
