import { useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import type { ReactNode } from "react";
import { answer, api } from "../api/client";
import type { ComparisonState, Scene } from "../api/generated";
import { keepColumns } from "../scene/points";
import { SceneView } from "../scene/SceneView";
import { Button } from "../ui/Button";
import { ModalFrame } from "../ui/Modal";

/** CSS pixels that each figure gets. */
const WIDE = Math.min(530, (window.innerWidth * 0.96 - 120) / 2);

interface Props {
  comparison: ComparisonState;
  /** What came, and what the new figure is called. */
  words: string;
  after: string;
  scene: Scene | null;
  /** How the new figure is asked for. */
  ask: { newest: true } | { newest_style: true };
  take: string;
  onTake: () => void;
  /** What else can be done. */
  children?: ReactNode;
}

/** Something newer is offered, never forced: old and new side by side, then taken. */
export function OldAndNew({ comparison, words, after, scene, ask, take, onTake, children }: Props) {
  return (
    <div className="flex shrink-0 items-baseline gap-4 bg-warn-ground px-5 py-1.5 text-[13px]" role="status">
      <span>{words}</span>
      <Dialog.Root>
        <Dialog.Trigger className="font-bold text-petrol">Old and new side by side</Dialog.Trigger>
        <ModalFrame
          title={`${comparison.name}: as drawn, and ${after}`}
          words={words}
          className="top-[8vh] max-h-[84vh] w-[74rem] overflow-auto bg-bench p-5"
        >
          <div className="grid grid-cols-2 gap-4">
            <figure className="rounded bg-sheet p-3">
              <figcaption className="mb-2 font-bold">As drawn</figcaption>
              {scene && <SceneView scene={scene} scale={WIDE / scene.width} />}
            </figure>
            <figure className="rounded bg-sheet p-3">
              <figcaption className="mb-2 font-bold first-letter:uppercase">{after}</figcaption>
              <NewestScene comparison={comparison} ask={ask} />
            </figure>
          </div>
          <div className="mt-4 flex justify-end gap-2">
            <Dialog.Close className="px-3 font-bold text-petrol">Not now</Dialog.Close>
            <Dialog.Close asChild>
              <Button onClick={onTake}>{take}</Button>
            </Dialog.Close>
          </div>
        </ModalFrame>
      </Dialog.Root>
      <button type="button" className="font-bold text-petrol" onClick={onTake}>
        Take it
      </button>
      {children}
    </div>
  );
}

function NewestScene({ comparison, ask }: Pick<Props, "comparison" | "ask">) {
  const { data, error } = useQuery({
    queryKey: ["newest", comparison.id, comparison.head, comparison.newer, comparison.newer_style, ask],
    queryFn: async () => {
      const scene = await answer(
        api.POST("/api/comparisons/{comparison_id}/scene", {
          params: { path: { comparison_id: comparison.id } },
          body: ask,
        }),
      );
      keepColumns(scene);
      return scene;
    },
    retry: false,
    staleTime: 0,
  });
  if (error) return <p className="text-warn">{error.message}. The old figure stays.</p>;
  return data ? <SceneView scene={data} scale={WIDE / data.width} /> : null;
}
