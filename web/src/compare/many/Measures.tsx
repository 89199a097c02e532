import { keepPreviousData, useInfiniteQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useLocation } from "wouter";
import { answer, api } from "../../api/client";
import type { ComparisonState, InMeasure, Recipe } from "../../api/generated";
import { SceneView } from "../../scene/SceneView";
import { Modal } from "../../ui/Modal";
import { tell } from "../../ui/Notices";
import { useLater } from "../../ui/useLater";
import { useSeen } from "../../ui/useSeen";
import { spaced } from "../../words";

const WIDE = 230;
/** More measures than this are searched by name. */
const MANY = 12;
/** So long typing rests before measures are asked for, in ms. */
const REST = 250;

interface Props {
  comparison: ComparisonState;
  recipe: Recipe;
  onClose: () => void;
}

/** The same figure for every measure of the table; a press begins a comparison of that measure. */
export function Measures({ comparison, recipe, onClose }: Props) {
  const [, go] = useLocation();
  const [begun, setBegun] = useState(false);
  const [typed, setTyped] = useState("");
  const named = useLater(typed.trim(), REST);
  const { data, error, hasNextPage, fetchNextPage, isPlaceholderData } = useInfiniteQuery({
    queryKey: ["measures", comparison.id, JSON.stringify(recipe), named],
    queryFn: ({ pageParam }) =>
      answer(
        api.POST("/api/comparisons/{comparison_id}/measures", {
          params: { path: { comparison_id: comparison.id } },
          body: { recipe, start: pageParam, named },
        }),
      ),
    initialPageParam: 0,
    // As many as there was time for: the next ones begin after those that are here.
    getNextPageParam: (last, pages) => {
      const here = pages.reduce((sum, { measures }) => sum + measures.length, 0);
      return here < last.of ? here : null;
    },
    retry: false,
    placeholderData: keepPreviousData,
  });
  const measures = data?.pages.flatMap((page) => page.measures) ?? [];
  const of = data?.pages[0]?.of ?? 0;
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
      {(of > MANY || typed) && (
        <input
          type="search"
          aria-label="Find measures"
          placeholder="Find measures"
          value={typed}
          maxLength={200}
          onChange={(event) => setTyped(event.target.value)}
          className="mb-3 w-64 rounded border border-hairline bg-sheet px-2.5 py-1.5"
        />
      )}
      {error && <p className="text-warn">{error.message}.</p>}
      {!data && !error && <p className="text-muted">Drawing…</p>}
      {data && of === 0 && <p className="text-muted">No measure is called that.</p>}
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(250px,1fr))] gap-3">
        {measures.map((entry) => (
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
      {hasNextPage && !isPlaceholderData && (
        <More
          key={measures.length}
          words={`${measures.length} of ${spaced(of)} measures. Drawing…`}
          onSeen={fetchNextPage}
        />
      )}
    </Modal>
  );
}

/** The end of what is here, while there is more: that is fetched when it comes into sight. */
function More({ words, onSeen }: { words: string; onSeen: () => void }) {
  const [ref, seen] = useSeen<HTMLParagraphElement>();
  useEffect(() => {
    if (seen) onSeen();
  }, [seen, onSeen]);
  return (
    <p ref={ref} role="status" className="mt-3 text-muted">
      {words}
    </p>
  );
}
