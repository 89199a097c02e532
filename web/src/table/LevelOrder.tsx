import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import {
  arrayMove,
  rectSortingStrategy,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
} from "@dnd-kit/sortable";

interface Props {
  levels: string[];
  onChange: (levels: string[]) => void;
}

/** Levels in their order, dragged by mouse or moved by Space and arrow keys. */
export function LevelOrder({ levels, onChange }: Props) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const onEnd = ({ active, over }: DragEndEvent) => {
    const [from, to] = [levels.indexOf(String(active.id)), levels.indexOf(String(over?.id))];
    if (over && from !== to) onChange(arrayMove(levels, from, to));
  };
  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onEnd}>
      <SortableContext items={levels} strategy={rectSortingStrategy}>
        <ol className="flex max-h-24 max-w-[40rem] flex-wrap gap-1.5 overflow-y-auto">
          {levels.map((level, place) => (
            <Level key={level} level={level} place={place + 1} />
          ))}
        </ol>
      </SortableContext>
    </DndContext>
  );
}

function Level({ level, place }: { level: string; place: number }) {
  const { attributes, listeners, setNodeRef, transform, isDragging } = useSortable({ id: level });
  const moved = transform ? `translate(${transform.x}px, ${transform.y}px)` : undefined;
  return (
    <li ref={setNodeRef} style={{ transform: moved }} className={isDragging ? "z-10" : ""}>
      <button
        type="button"
        {...attributes}
        {...listeners}
        aria-label={`${level}, place ${place}`}
        className={`cursor-grab rounded border border-hairline bg-sheet px-2 py-0.5 text-[13px] ${isDragging ? "shadow-float" : ""}`}
      >
        <span className="number mr-1.5 text-muted">{place}</span>
        {level}
      </button>
    </li>
  );
}
