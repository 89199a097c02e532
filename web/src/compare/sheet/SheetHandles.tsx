import { useState } from "react";
import type { Recipe, Scene } from "../../api/generated";
import { LEAST_SIDE, MOST_SIDE, millimetres } from "../export/sheet";

/** Millimetres in a point of 1/72 inch. */
const POINT = 25.4 / 72;

type Edge = "width" | "height" | "corner";
const EDGES: { edge: Edge; name: string; help: string; look: string }[] = [
  {
    edge: "width",
    name: "Width of the sheet",
    help: "Drag, or arrow keys: width of the sheet",
    look: "top-0 -right-2 h-full w-2 cursor-ew-resize",
  },
  {
    edge: "height",
    name: "Height of the sheet",
    help: "Drag, or arrow keys: height of the sheet",
    look: "-bottom-2 left-0 h-2 w-full cursor-ns-resize",
  },
  {
    edge: "corner",
    name: "Size of the sheet",
    help: "Drag, or arrow keys: size of the sheet in its shape; with Shift in any shape",
    look: "-right-2.5 -bottom-2.5 size-3.5 cursor-nwse-resize rounded-sm border border-petrol bg-sheet",
  },
];

interface Props {
  scene: Scene;
  /** CSS pixels a point. */
  scale: number;
  recipe: Recipe;
  onSettle: (recipe: Recipe) => void;
}

interface Drawn {
  width: number;
  height: number;
}

/** The sheet's edges, by which its size in millimetres is drawn; shown where the pointer or the focus is. */
export function SheetHandles({ scene, scale, recipe, onSettle }: Props) {
  const [drawn, setDrawn] = useState<Drawn | null>(null);
  const settle = (edge: Edge, size: Drawn) => {
    const width = `${millimetres(size.width)}mm`;
    const height = edge === "width" ? recipe.size.height : `${millimetres(size.height)}mm`;
    onSettle({ ...recipe, size: { ...recipe.size, width: edge === "height" ? recipe.size.width : width, height } });
  };
  const onDown = (edge: Edge) => (event: React.PointerEvent<HTMLElement>) => {
    event.preventDefault();
    const handle = event.currentTarget;
    const [fromX, fromY] = [event.clientX, event.clientY];
    let size: Drawn | null = null;
    handle.setPointerCapture(event.pointerId);
    const onMove = (move: PointerEvent) => {
      size = resized(edge, scene, (move.clientX - fromX) / scale, (move.clientY - fromY) / scale, move.shiftKey);
      setDrawn(size);
    };
    const leave = () => {
      handle.removeEventListener("pointermove", onMove);
      handle.removeEventListener("pointerup", onUp);
      handle.removeEventListener("pointercancel", leave);
      document.removeEventListener("keydown", onKey, true);
      setDrawn(null);
    };
    const onUp = () => {
      leave();
      if (size) settle(edge, size);
    };
    const onKey = (key: KeyboardEvent) => {
      if (key.key !== "Escape") return;
      key.stopPropagation();
      leave();
    };
    handle.addEventListener("pointermove", onMove);
    handle.addEventListener("pointerup", onUp);
    handle.addEventListener("pointercancel", leave);
    document.addEventListener("keydown", onKey, true);
  };
  const onKey = (edge: Edge) => (event: React.KeyboardEvent) => {
    const across = { ArrowRight: 1, ArrowLeft: -1 }[event.key] ?? 0;
    const down = { ArrowDown: 1, ArrowUp: -1 }[event.key] ?? 0;
    if (!across && !down) return;
    event.preventDefault();
    const step = 5 / POINT;
    settle(edge, resized(edge, scene, across * step, down * step, event.shiftKey));
  };
  return (
    <>
      {EDGES.map(({ edge, name, help, look }) => (
        <button
          key={edge}
          type="button"
          aria-label={name}
          title={help}
          data-path={edge === "height" ? "size.height" : "size.width"}
          onPointerDown={onDown(edge)}
          onKeyDown={onKey(edge)}
          className={`absolute touch-none opacity-0 hover:opacity-100 focus-visible:opacity-100 ${look} ${edge === "corner" ? "" : "rounded bg-petrol/40"}`}
        />
      ))}
      {drawn && (
        <div
          className="pointer-events-none absolute top-0 left-0 z-20 border-2 border-petrol border-dashed"
          style={{ width: drawn.width * scale, height: drawn.height * scale }}
        >
          <span className="number absolute right-1 bottom-1 rounded bg-ink px-1.5 py-0.5 text-[12px] text-sheet">
            {millimetres(drawn.width)} × {millimetres(drawn.height)} mm
          </span>
        </div>
      )}
    </>
  );
}

/** The sheet's size in points after an edge moved; its corner keeps the shape unless it is free. */
function resized(edge: Edge, scene: Scene, across: number, down: number, free: boolean): Drawn {
  const width = held(scene.width + (edge === "height" ? 0 : across));
  const height = held(scene.height + (edge === "width" ? 0 : down));
  if (edge !== "corner" || free) return { width, height };
  const ratio = scene.height / scene.width;
  return Math.abs(across) >= Math.abs(down)
    ? { width, height: held(width * ratio) }
    : { width: held(height / ratio), height };
}

/** A length in points, no shorter or longer than a sheet may be, in whole millimetres. */
function held(points: number): number {
  return Math.round(Math.min(MOST_SIDE, Math.max(LEAST_SIDE, points * POINT))) / POINT;
}
