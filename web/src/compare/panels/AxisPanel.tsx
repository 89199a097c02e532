import { GuidesPanel } from "../guides/GuidesPanel";
import { showsOnly } from "../recipe";
import { useShown } from "../store/BenchContext";
import { useFigureOptions } from "../useFigureOptions";
import { PartSettings } from "./PartSettings";

/** What the measure's axis has and the axis of counts has not. */
const OF_MEASURE = ["scale", "from", "to", "ticks", "step", "minor", "decimals"];

/** Which way lanes run, what part of the measure the axis shows, where its ticks stand; the same of heights; guides. */
export function AxisPanel() {
  const { recipe } = useShown();
  const options = useFigureOptions();
  const [counts, stems] = [showsOnly(recipe, "counts"), showsOnly(recipe, "stem")];
  const rises = recipe.layers.some((layer) => options?.layers.find((offer) => offer.layer === layer.layer)?.rises);
  return (
    <div className="grid gap-3 px-4 py-4">
      <PartSettings part="axis" but={counts ? OF_MEASURE : stems ? ["scale"] : []} />
      <p className="text-muted">
        {counts
          ? "This axis counts rows. Scale, ends and guides of the measure stay with the other forms."
          : "Leave an end empty to let the data decide. Values out of view stay in every number."}
        {stems && " Stems stand at even steps: their axis is linear."}
      </p>
      {rises && (
        <section aria-label="Heights" className="border-t border-hairline pt-3">
          <PartSettings part="second_axis" />
        </section>
      )}
      {!counts && <GuidesPanel />}
    </div>
  );
}
