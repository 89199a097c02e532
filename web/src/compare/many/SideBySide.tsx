import { useQueries, useQuery } from "@tanstack/react-query";
import { answer, api } from "../../api/client";
import type { Recipe, Scene } from "../../api/generated";
import { keepColumns } from "../../scene/points";
import { SceneView } from "../../scene/SceneView";
import { Modal } from "../../ui/Modal";
import { Differences } from "./Differences";
import { letter } from "./letter";

/** One figure among several: a state of the trail, or a recipe over the data of one. */
export interface Side {
  words: string;
  entry: number;
  recipe: Recipe | null;
  /** Of which comparison it is; of the one that is open when left out. */
  comparison?: string;
}

interface Props {
  comparison: string;
  title: string;
  sides: Side[];
  onClose: () => void;
}

async function draw(comparison: string, side: Side, recipe: Recipe): Promise<Scene> {
  const scene = await answer(
    api.POST("/api/comparisons/{comparison_id}/scene", {
      params: { path: { comparison_id: side.comparison ?? comparison } },
      body: { entry: side.entry, recipe },
    }),
  );
  keepColumns(scene);
  return scene;
}

/** From where to where one axis must reach to hold all figures; null where they measure different things. */
function shared(scenes: Scene[], recipes: Recipe[]): { from: number; to: number } | null {
  const measures = new Set(recipes.map((recipe) => JSON.stringify([recipe.measure.columns, recipe.axis.scale])));
  if (measures.size > 1 || scenes.some((scene) => scene.form === "stem")) return null;
  const domains = scenes.flatMap((scene) => scene.panels.map((panel) => panel.scale.domain));
  return { from: Math.min(...domains.map(([low]) => low)), to: Math.max(...domains.map(([, high]) => high)) };
}

/** Two or more figures side by side on one axis, and under them what differs in their numbers. */
export function SideBySide({ comparison, title, sides, onClose }: Props) {
  const { data: recipes, error } = useQuery({
    queryKey: ["sides", comparison, JSON.stringify(sides)],
    queryFn: () =>
      Promise.all(sides.map((side) => side.recipe ?? recipeAt(side.comparison ?? comparison, side.entry))),
    retry: false,
  });
  const first = useQueries({
    queries: sides.map((side, i) => ({
      queryKey: ["side", side.comparison ?? comparison, side.entry, JSON.stringify(recipes?.[i])],
      queryFn: () => draw(comparison, side, (recipes as Recipe[])[i] as Recipe),
      enabled: recipes !== undefined,
      retry: false,
    })),
  });
  const drawn = first.flatMap((query) => (query.data ? [query.data] : []));
  const axis = recipes && drawn.length === sides.length ? shared(drawn, recipes) : null;
  const aligned = useQueries({
    queries: sides.map((side, i) => ({
      queryKey: ["side", side.comparison ?? comparison, side.entry, JSON.stringify(recipes?.[i]), axis],
      queryFn: () => {
        const recipe = (recipes as Recipe[])[i] as Recipe;
        return draw(comparison, side, { ...recipe, axis: { ...recipe.axis, ...axis } });
      },
      enabled: axis !== null,
      retry: false,
    })),
  });
  const scenes = sides.map((_, i) => aligned[i]?.data ?? (axis ? undefined : first[i]?.data));
  const whole = scenes.every((scene) => scene !== undefined);
  const fault = error ?? first.find((query) => query.error)?.error;
  const wide = Math.min(560, (window.innerWidth * 0.94 - 40) / Math.min(sides.length, 3) - 40);
  return (
    <Modal
      title={title}
      words={axis ? "One axis for all." : "Each on its own axis: they measure different things."}
      width={Math.min(sides.length, 3) * (wide + 36) + 28}
      className="top-[4vh] max-h-[92vh] overflow-auto bg-bench p-5"
      onClose={onClose}
    >
      {fault && <p className="text-warn">{fault.message}.</p>}
      <div
        className="grid gap-3"
        style={{ gridTemplateColumns: `repeat(${Math.min(sides.length, 3)}, minmax(0, 1fr))` }}
      >
        {sides.map((side, i) => {
          const scene = scenes[i];
          return (
            <figure key={side.entry + side.words} className="rounded bg-sheet p-3">
              <figcaption className="mb-2 text-[13px] font-bold">
                {letter(i)} · {side.words}
              </figcaption>
              <div style={{ width: wide }}>
                {scene ? <SceneView scene={scene} scale={wide / scene.width} /> : "Drawing…"}
              </div>
            </figure>
          );
        })}
      </div>
      {whole && <Differences scenes={scenes as Scene[]} />}
    </Modal>
  );
}

function recipeAt(comparison: string, entry: number): Promise<Recipe> {
  return answer(
    api.GET("/api/comparisons/{comparison_id}/trail/{number}", {
      params: { path: { comparison_id: comparison, number: entry } },
    }),
  );
}
