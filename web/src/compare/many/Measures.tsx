import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useLocation } from "wouter";
import { answer, api } from "../../api/client";
import type { ComparisonState, InMeasure, Recipe } from "../../api/generated";
import { SceneView } from "../../scene/SceneView";
import { Modal } from "../../ui/Modal";
import { tell } from "../../ui/Notices";

const WIDE = 230;

interface Props {
  comparison: ComparisonState;
  recipe: Recipe;
  onClose: () => void;
}

/** The same figure for every measure of the table; a press begins a comparison of that measure. */
export function Measures({ comparison, recipe, onClose }: Props) {
  const [, go] = useLocation();
  const [begun, setBegun] = useState(false);
  const { data, error } = useQuery({
    queryKey: ["measures", comparison.id, JSON.stringify(recipe)],
    queryFn: () =>
      answer(
        api.POST("/api/comparisons/{comparison_id}/measures", {
          params: { path: { comparison_id: comparison.id } },
          body: { recipe },
        }),
      ),
    retry: false,
  });
  const begin = async (measure: InMeasure) => {
    setBegun(true);
    const across = measure.recipe.groups ? ` by ${measure.recipe.groups.column}` : "";
    try {
      const made = await answer(
        api.POST("/api/comparisons/{comparison_id}/copies", {
          params: { path: { comparison_id: comparison.id } },
          body: {
            recipe: measure.recipe,
            name: `${measure.column}${across}`,
          },
        }),
      );
      go(`/comparisons/${made.id}`);
    } catch (fault) {
      setBegun(false);
      tell(fault);
    }
  };
  return (
    <Modal
      title="Every measure, in this figure"
      words="Choose one: it becomes a comparison of its own."
      className="top-[6vh] max-h-[88vh] w-[68rem] overflow-auto bg-bench p-5"
      onClose={onClose}
    >
      {error && <p className="text-warn">{error.message}.</p>}
      {!data && !error && <p className="text-muted">Drawing…</p>}
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(250px,1fr))] gap-3">
        {data?.map((entry) => (
          <li key={entry.column}>
            <button
              type="button"
              disabled={begun}
              onClick={() => void begin(entry)}
              className="block w-full rounded bg-sheet p-2.5 text-left hover:outline-2 hover:outline-petrol"
            >
              <span className="pointer-events-none grid min-h-36 place-items-center" aria-hidden="true">
                {entry.scene ? (
                  <SceneView scene={entry.scene} scale={WIDE / entry.scene.width} label={entry.column} />
                ) : (
                  <span className="text-[12.5px] text-warn">{entry.reason}</span>
                )}
              </span>
              <span className="block truncate text-[13px] font-bold">{entry.column}</span>
            </button>
          </li>
        ))}
      </ul>
    </Modal>
  );
}
