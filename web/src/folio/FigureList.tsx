import { closestCenter, DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from "@dnd-kit/sortable";
import { Link } from "wouter";
import type { FolioState } from "../api/generated";
import { Button } from "../ui/Button";
import { useFolio, useFolioActions } from "./FolioContext";

/** The figures in order, moved by dragging or by keys; under them what can be added. */
export function FigureList() {
  const { folio, looking } = useFolio();
  const { keep } = useFolioActions();
  const onFigures = (figures: string[]) => keep(() => ({ figures }));
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const ids = folio.figures.map((figure) => figure.comparison);
  const others = folio.offered.filter((figure) => !ids.includes(figure.comparison));
  return (
    <section aria-label="Figures" className="mt-4 border-t border-hairline pt-3">
      <h2 className="mb-2 text-[15px] font-bold">Figures</h2>
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragEnd={({ active, over }) => {
          if (over && active.id !== over.id)
            onFigures(arrayMove(ids, ids.indexOf(String(active.id)), ids.indexOf(String(over.id))));
        }}
      >
        <SortableContext items={ids} strategy={verticalListSortingStrategy}>
          <ol className="grid grid-cols-[minmax(0,1fr)] gap-1.5">
            {folio.figures.map((figure, place) => (
              <Line
                key={figure.comparison}
                figure={figure}
                letter={letterOf(folio.page.letters, place)}
                looking={looking}
                onRemove={() => onFigures(ids.filter((id) => id !== figure.comparison))}
              />
            ))}
          </ol>
        </SortableContext>
      </DndContext>
      {!looking && others.length > 0 && (
        <>
          <h3 className="mt-4 mb-1 text-muted">Comparisons of the study</h3>
          <ul className="grid gap-1">
            {others.map((figure) => (
              <li key={figure.comparison} className="flex items-baseline justify-between gap-2">
                <span className="min-w-0 truncate">{figure.name}</span>
                <Button
                  look="quiet"
                  className="!p-0"
                  aria-label={`Add ${figure.name}`}
                  onClick={() => onFigures([...ids, figure.comparison])}
                >
                  Add
                </Button>
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}

function letterOf(letters: FolioState["page"]["letters"], place: number): string {
  return letters === "none" ? String(place + 1) : String.fromCharCode(letters.charCodeAt(0) + (place % 26));
}

function Line(props: {
  figure: FolioState["figures"][number];
  letter: string;
  looking: boolean;
  onRemove: () => void;
}) {
  const { figure, letter, looking, onRemove } = props;
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({
    id: figure.comparison,
    disabled: looking,
  });
  const moved = transform ? `translate3d(0, ${transform.y}px, 0)` : undefined;
  return (
    <li
      ref={setNodeRef}
      style={{ transform: moved, transition }}
      className="flex items-center gap-2 rounded border border-hairline bg-sheet px-2 py-1.5"
    >
      <button
        type="button"
        className="cursor-grab font-bold disabled:cursor-default"
        disabled={looking}
        {...attributes}
        {...listeners}
        aria-label={`Figure ${letter}, ${figure.name}: move`}
      >
        <span aria-hidden="true">⠿ </span>
        {letter}
      </button>
      <Link
        href={`/comparisons/${figure.comparison}`}
        className="min-w-0 flex-1 truncate text-petrol hover:underline"
        title={figure.name}
      >
        {figure.name}
      </Link>
      {!looking && (
        <Button look="quiet" className="!p-0 !font-normal" aria-label={`Remove ${figure.name}`} onClick={onRemove}>
          Remove
        </Button>
      )}
    </li>
  );
}
