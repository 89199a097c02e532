import { useQuery } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import type { Recipe } from "../api/generated";
import { SceneView } from "../scene/SceneView";
import { Button } from "../ui/Button";
import { useBenchActions, useBenchState, useComparison, useRights } from "./store/BenchContext";

const SCALE = 1.25;
/** At most so many questions come. */
const PLACES = [1, 2, 3, 4, 5];

/** Over the sheet of a new table: what else it could be asked, each a press away; gone at the first choice, back with Q. */
export function OtherQuestions() {
  const { id, look } = useBenchActions();
  const comparison = useComparison();
  const { change } = useRights();
  const asked = useBenchState((state) => state.questions);
  const drawn = useBenchState((state) => state.scene !== null);
  const draft = useBenchState((state) => state.draft !== null);
  const untouched = comparison.trail.length === 1 && !comparison.earlier && !draft;
  const open = asked ?? untouched;
  const { data, isError } = useQuery({
    queryKey: ["questions", id, comparison.preparation],
    queryFn: () =>
      answer(api.GET("/api/comparisons/{comparison_id}/questions", { params: { path: { comparison_id: id } } })),
    staleTime: Number.POSITIVE_INFINITY,
    // What the table was opened for comes first.
    enabled: open && drawn,
    retry: false,
  });
  // The cards have their room before they come: the sheet must not move under a hand.
  if (!open || isError || (data?.length === 0 && asked === null)) return null;
  return (
    <section aria-label="Other questions of this table" className="mx-auto mb-3 max-w-[1100px]">
      <p className="mb-2 flex items-baseline gap-3 text-[13px]">
        <strong>Other questions of this table</strong>
        <span className="text-muted">
          {asked ? "Q closes them" : "gone at your first choice; Q brings them back"}
        </span>
        <Button look="quiet" className="ml-auto !p-0 !font-normal" onClick={() => look({ questions: false })}>
          Close
        </Button>
      </p>
      {data && data.length === 0 && <p className="text-muted">This table has no other likely question.</p>}
      <div className="grid grid-cols-5 gap-2.5">
        {!data && PLACES.map((place) => <div key={place} className="min-h-[134px] rounded-md bg-sheet/50" />)}
        {data?.map(({ recipe, scene }) => (
          <button
            key={wordsOf(recipe)}
            type="button"
            aria-label={wordsOf(recipe)}
            onClick={() => {
              look({ questions: null });
              change(recipe);
            }}
            className="min-h-[134px] min-w-0 overflow-hidden rounded-md bg-sheet p-2 text-left shadow-sm hover:shadow-float"
          >
            <span className="pointer-events-none grid h-[82px] place-items-center" aria-hidden="true">
              {scene && <SceneView scene={scene} scale={SCALE} label="" />}
            </span>
            <span className="line-clamp-2 text-[12.5px] leading-snug text-ink/80">{wordsOf(recipe)}</span>
          </button>
        ))}
      </div>
    </section>
  );
}

/** The question in a few words: "cortisol across ward". */
function wordsOf(recipe: Recipe): string {
  const { columns } = recipe.measure;
  const measure = columns.length > 1 ? `${columns.length} measures side by side` : (columns[0] ?? "");
  if (!recipe.groups) return columns.length > 1 ? measure : `${measure} alone`;
  return `${measure} across ${recipe.groups.column}${recipe.subgroups ? ` split by ${recipe.subgroups.column}` : ""}`;
}
