import { useState } from "react";
import type { FigureOptions, LaneDifferences, Recipe, Scene } from "../../api/generated";
import { Button } from "../../ui/Button";
import { placesOf } from "../ledger/readings";
import { withSubgroups } from "../recipe";
import { levelsShown } from "../sheet/lanes";
import { useBenchState, useRights, useShown } from "../store/BenchContext";
import { useFigureOptions } from "../useFigureOptions";
import type { Asked } from "./asked";
import { DrawnChoices } from "./DrawnChoices";
import { Evidence } from "./Evidence";
import { Laboratory } from "./Laboratory";
import { LaboratoryOptions, Options } from "./Options";
import { Progress } from "./Progress";
import { Sizes } from "./Sizes";
import { useDifferences } from "./useDifferences";

/** How large the differences are: a size with its uncertainty first, tests beside it as evidence, and what fits here. */
export function DifferencesPanel() {
  const scene = useBenchState((state) => state.scene);
  const options = useFigureOptions();
  return scene && options ? <Compared scene={scene} options={options} /> : null;
}

function Compared({ scene, options }: { scene: Scene; options: FigureOptions }) {
  const { comparison: here, recipe } = useShown();
  const { change: onSettle } = useRights();
  const { id: comparison, columns } = here;
  const [name, setName] = useState("");
  const asked = recipe.differences ?? options.differences;
  const { data, error, isFetching, step, stop, refetch } = useDifferences(comparison, recipe);
  const names = data?.pairs[0]?.estimates.map((line) => line.name) ?? [];
  const shown = names.includes(name)
    ? name
    : (data?.guide.fits.find((fit) => names.includes(fit)) ?? names[0] ?? "");
  const paired = asked.paired_by !== null || data?.pairs[0]?.paired === true;
  const change = (part: Partial<Asked>) => onSettle({ ...recipe, differences: { ...asked, ...part } });
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-3 px-4 py-4">
      <Options
        asked={asked}
        levels={levelsOf(scene, asked, data)}
        columns={columns}
        byRow={paired && asked.paired_by === null}
        onChange={change}
      />
      <DrawnChoices recipe={recipe} asked={asked} options={options} paired={paired} onSettle={onSettle} />
      {isFetching && <Progress step={step} onStop={stop} />}
      {!isFetching && !data && !error && (
        <p className="text-muted">
          Not computed.{" "}
          <Button look="quiet" className="!p-0" onClick={() => refetch()}>
            Compute
          </Button>
        </p>
      )}
      {error && <p className="text-warn">{error.message}.</p>}
      {data && (
        <div aria-busy={isFetching}>
          <Sizes data={data} names={names} shown={shown} places={placesOf(scene)} onName={setName} />
          <Evidence data={data} places={placesOf(scene)} />
          <p className="mt-3 font-bold">What fits here: {data.guide.fits.join(", ")}.</p>
          {[...data.guide.why, ...data.remarks, data.guide.not_said].map((words) => (
            <p key={words} className="mt-1 text-[12.5px] text-muted">
              {words}
            </p>
          ))}
        </div>
      )}
      <LaboratoryOptions asked={asked} columns={columns} onChange={change} />
      {data && (
        <Laboratory
          data={data}
          places={placesOf(scene)}
          onGuide={(guide) => onSettle(withGuide(recipe, options, guide))}
          onSplit={(runs) => onSettle(withSubgroups(recipe, runs, options, scene.form))}
        />
      )}
    </div>
  );
}

/** The levels that can be the reference; lanes of differences do not show it. */
function levelsOf(scene: Scene, asked: Asked, data: LaneDifferences | undefined): string[] {
  const shown = levelsShown(scene);
  const reference = data?.pairs[0]?.reference;
  return asked.drawn && reference && !shown.includes(reference) ? [reference, ...shown] : shown;
}

function withGuide(recipe: Recipe, options: FigureOptions, band: [number, number]): Recipe {
  const guide = { ...options.guide, at: null, band, label: "reference limits" };
  return { ...recipe, guides: [...recipe.guides, guide] };
}
