import type { Recipe } from "../../api/generated";
import { Button } from "../../ui/Button";
import { levelsShown } from "../sheet/lanes";
import { useBenchState, useRights, useShown } from "../store/BenchContext";
import { useFigureOptions } from "../useFigureOptions";
import { binsOf } from "./bins";
import { GuideCard } from "./GuideCard";
import { KeptGuides } from "./KeptGuides";

/** Reference lines and bands at numbers or at what the values give, for all lanes or a group; and those the study keeps. */
export function GuidesPanel() {
  const { comparison, recipe } = useShown();
  const { looking, change: onSettle } = useRights();
  const scene = useBenchState((state) => state.scene);
  const { study } = comparison;
  const settle = (guides: Recipe["guides"]) => onSettle({ ...recipe, guides });
  const domain = scene?.panels[0]?.scale.domain ?? [0, 1];
  const levels = recipe.groups && scene ? levelsShown(scene) : [];
  const bins = binsOf(recipe, scene);
  const usual = useFigureOptions()?.guide;
  return (
    <section aria-label="Guides" className="grid gap-2 border-t border-hairline pt-3">
      <h2 className="text-[15px] font-bold">Guides</h2>
      {recipe.guides.map((guide, place) => (
        <GuideCard
          key={place}
          number={place + 1}
          guide={guide}
          levels={levels}
          range={domain}
          onChange={(next) => settle(recipe.guides.map((guide, i) => (i === place ? next : guide)))}
          onRemove={() => settle(recipe.guides.filter((_, i) => i !== place))}
        />
      ))}
      <p className="flex flex-wrap gap-x-4">
        <Button
          look="quiet"
          className="!px-0"
          disabled={!usual}
          onClick={() => usual && settle([...recipe.guides, usual])}
        >
          + Guide
        </Button>
        {bins && (
          <Button look="quiet" className="!px-0" onClick={() => onSettle(bins)}>
            Bins at these bands
          </Button>
        )}
      </p>
      {!looking && <KeptGuides study={study} recipe={recipe} onSettle={settle} />}
    </section>
  );
}
