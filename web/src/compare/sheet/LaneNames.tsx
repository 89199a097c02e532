import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { arrayMove, SortableContext, sortableKeyboardCoordinates, useSortable } from "@dnd-kit/sortable";
import { useState } from "react";
import type { Recipe, Scene } from "../../api/generated";
import { Field } from "../../ui/Field";
import { inOrder, levelsShown, type NamedSlot, namedSlots, renamed } from "./lanes";

interface Props {
  scene: Scene;
  scale: number;
  recipe: Recipe;
  onSettle: (recipe: Recipe) => void;
  /** The lane whose numbers are to be shown. */
  onLook: (slot: number | null) => void;
}

const MOST = 60;
/** Space picks a name up and puts it down; Enter renames. */
const CODES = { start: ["Space"], cancel: ["Escape"], end: ["Space"] };

/** The names of lanes: dragged (or Space and arrow keys) to another place, double-clicked (or Enter) to rename. */
export function LaneNames({ scene, scale, recipe, onSettle, onLook }: Props) {
  const [renaming, setRenaming] = useState<string | null>(null);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates, keyboardCodes: CODES }),
  );
  const slots = namedSlots(scene);
  if (slots.length > MOST) return null;
  const levels = levelsShown(scene);
  const onEnd = ({ active, over }: DragEndEvent) => {
    const [from, to] = [levels.indexOf(String(active.id)), levels.indexOf(String(over?.id))];
    if (over && from !== to && from >= 0 && to >= 0) onSettle(inOrder(recipe, arrayMove(levels, from, to)));
  };
  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onEnd}>
      <SortableContext items={slots.map((slot) => slot.level)} strategy={() => null}>
        {slots.map((slot) =>
          renaming === slot.level ? (
            <Rename
              key={slot.level}
              slot={slot}
              scale={scale}
              name={recipe.groups?.labels[slot.level] ?? slot.level}
              onDone={(name) => {
                setRenaming(null);
                if (name !== null) onSettle(renamed(recipe, slot.level, name));
              }}
            />
          ) : (
            <LaneName
              key={slot.level}
              slot={slot}
              scale={scale}
              onRename={recipe.groups ? () => setRenaming(slot.level) : null}
              onLook={onLook}
            />
          ),
        )}
      </SortableContext>
    </DndContext>
  );
}

interface NameProps {
  slot: NamedSlot;
  scale: number;
  onRename: (() => void) | null;
  onLook: (slot: number | null) => void;
}

function placed({ box }: NamedSlot, scale: number) {
  const [left, top, right, bottom] = box.map((end) => end * scale) as [number, number, number, number];
  return { left: left - 4, top: top - 3, width: right - left + 8, height: bottom - top + 6 };
}

function LaneName({ slot, scale, onRename, onLook }: NameProps) {
  const { attributes, listeners, setNodeRef, transform, isDragging, isOver } = useSortable({ id: slot.level });
  const moved = isDragging && transform ? `translate(${transform.x}px, ${transform.y}px)` : undefined;
  return (
    <button
      ref={setNodeRef}
      type="button"
      {...attributes}
      {...listeners}
      onKeyDown={(event) => {
        if ((event.key === "Enter" || event.key === "F2") && onRename) onRename();
        else (listeners?.onKeyDown as ((event: React.KeyboardEvent) => void) | undefined)?.(event);
      }}
      onDoubleClick={() => onRename?.()}
      onFocus={() => onLook(slot.slot)}
      onBlur={() => onLook(null)}
      aria-label={`Lane ${slot.name}`}
      data-path="groups.order groups.labels"
      title={onRename ? "Drag to reorder, double-click to rename; Space and arrow keys, Enter" : "Drag to reorder"}
      style={{ ...placed(slot, scale), transform: moved }}
      className={`absolute z-10 cursor-grab rounded border border-transparent hover:border-hairline hover:bg-bench/40 ${isDragging ? "border-petrol bg-sheet/80 shadow-float" : ""} ${isOver && !isDragging ? "border-petrol" : ""}`}
    >
      {isDragging && <span className="px-1 text-[12px] font-bold">{slot.name}</span>}
    </button>
  );
}

function Rename(props: { slot: NamedSlot; scale: number; name: string; onDone: (name: string | null) => void }) {
  const { slot, scale, name, onDone } = props;
  const { left, top, height } = placed(slot, scale);
  return (
    <Field
      autoFocus
      aria-label={`New name of ${slot.name}`}
      value={name}
      maxLength={200}
      onFocus={(event) => event.currentTarget.select()}
      onSettle={(text) => {
        onDone(text);
        return true;
      }}
      onLeave={() => onDone(null)}
      style={{ left, top, minHeight: height, minWidth: 110 }}
      className="absolute z-20 rounded border-2 border-petrol bg-sheet px-1.5 text-[13px] shadow-float"
    />
  );
}
