import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from "react";
import type { Handle, Recipe, Scene } from "../../api/generated";
import { placeOf, valueAtPlace } from "../../scene/scale";
import { withValue } from "../recipe";

interface Props {
  scene: Scene;
  scale: number;
  recipe: Recipe;
  onMove: (recipe: Recipe) => void;
  onRest: (recipe: Recipe, what: string) => void;
  onSettle: (recipe: Recipe) => void;
}

const MOST_LANES = 40;

/** The recipe with a handle at a value, and what goes with it. */
function handled(recipe: Recipe, handle: Handle, value: number): Recipe {
  const also = handle.also.reduce((made, change) => withValue(made, change.path, change.value), recipe);
  return withValue(also, handle.path, value);
}

/** What can be dragged on the figure. A handle moves at once; the figure follows. */
export function Handles({ scene, scale, recipe, onMove, onRest, onSettle }: Props) {
  const [dragged, setDragged] = useState<{ key: string; value: number } | null>(null);
  useEffect(() => {
    // The figure has caught up: from here on the handle follows it, through undo too.
    const caught = (handle: Handle, value: number) => Math.abs(handle.value - value) < handle.step / 2;
    setDragged((now) => (now && scene.handles.some((h) => h.key === now.key && caught(h, now.value)) ? null : now));
  }, [scene]);
  if (scene.lanes.length > MOST_LANES) return null;
  return (
    <>
      {scene.handles.map((handle) => (
        <Grip
          key={handle.key}
          handle={handle}
          scene={scene}
          scale={scale}
          value={dragged?.key === handle.key ? dragged.value : handle.value}
          onDrag={(value) => {
            setDragged({ key: handle.key, value });
            onMove(handled(recipe, handle, value));
          }}
          onDrop={(value) => {
            setDragged(null);
            onSettle(handled(recipe, handle, value));
          }}
          onKey={(value) => {
            setDragged({ key: handle.key, value });
            onRest(handled(recipe, handle, value), handle.key);
          }}
        />
      ))}
    </>
  );
}

interface GripProps {
  handle: Handle;
  scene: Scene;
  scale: number;
  value: number;
  onDrag: (value: number) => void;
  onDrop: (value: number) => void;
  onKey: (value: number) => void;
}

/** Where a handle lies on the sheet, in points: along its way, and from where to where across it. */
function lieOf(handle: Handle, scene: Scene, value: number) {
  const panel = scene.panels.find((panel) => panel.key === handle.panel);
  if (!panel) return null;
  const { scale, box } = panel;
  const [left, top, width, height] = box;
  const measureIsX = scale.direction === "x";
  const at = handle.origin + handle.unit * value;
  if (handle.along === "across") {
    const ends = measureIsX ? [left, left + width] : [top, top + height];
    return { scale, x: !measureIsX, place: at, inView: true, low: ends[0] as number, high: ends[1] as number };
  }
  const lane = scene.lanes.find((lane) => lane.key === handle.lane && lane.panel === handle.panel);
  const place = placeOf(scale, at);
  const [c0, c1] = scale.range;
  const held = Math.min(Math.max(place, Math.min(c0, c1)), Math.max(c0, c1));
  const sides = measureIsX ? [top, top + height] : [left, left + width];
  // The ends of the axis are taken beside its numbers, where nothing else lies.
  const foot = measureIsX ? [top + height, top + height + 14] : [left - 16, left];
  const ends = handle.role === "axis-end" ? foot : lane ? [lane.start, lane.end] : sides;
  return {
    scale,
    x: measureIsX,
    place: handle.role === "axis-end" ? place : held,
    inView: Math.abs(held - place) < 1,
    low: ends[0] as number,
    high: ends[1] as number,
  };
}

function Grip({ handle, scene, scale, value, onDrag, onDrop, onKey }: GripProps) {
  const grip = useRef<HTMLDivElement>(null);
  const last = useRef<number | null>(null);
  const began = useRef({ value, spot: 0 });
  const lie = lieOf(handle, scene, value);
  if (!lie) return null;
  const { x } = lie;

  const limit = (wanted: number) => {
    const whole = Math.round(wanted / handle.step) * handle.step;
    return Number(Math.min(Math.max(whole, handle.least), handle.most).toPrecision(10));
  };
  const spotOf = (event: PointerEvent) => {
    const sheet = grip.current?.parentElement?.getBoundingClientRect();
    return sheet ? (x ? event.clientX - sheet.left : event.clientY - sheet.top) / scale : 0;
  };
  const valueAt = (spot: number) => {
    const at = handle.along === "across" ? spot : valueAtPlace(lie.scale, spot);
    return limit((at - handle.origin) / handle.unit);
  };
  const onPointerDown = (event: PointerEvent) => {
    event.preventDefault();
    event.stopPropagation();
    grip.current?.focus();
    grip.current?.setPointerCapture(event.pointerId);
    last.current = value;
    began.current = { value, spot: spotOf(event) };
  };
  const onPointerMove = (event: PointerEvent) => {
    if (last.current === null) return;
    const spot = spotOf(event);
    // A press that hardly moves changes nothing, wherever in the grip it was.
    if (last.current === began.current.value && Math.abs(spot - began.current.spot) * scale < 2) return;
    const next = valueAt(spot);
    if (next === last.current) return;
    last.current = next;
    onDrag(next);
  };
  const onPointerUp = () => {
    // Previews have moved the handle's own value along: what counts is where the drag began.
    if (last.current !== null && last.current !== began.current.value) onDrop(last.current);
    last.current = null;
  };
  const onKeyDown = (event: KeyboardEvent) => {
    // Right and up go towards larger values of what is dragged; a fence below the box grows downwards.
    const outward = handle.unit > 0 ? 1 : -1;
    const steps: Record<string, number> = {
      ArrowRight: x ? outward : 1,
      ArrowLeft: x ? -outward : -1,
      ArrowUp: x ? 1 : outward,
      ArrowDown: x ? -1 : -outward,
      PageUp: 10,
      PageDown: -10,
    };
    const by = steps[event.key];
    if (by === undefined) return;
    event.preventDefault();
    onKey(limit(value + by * handle.step));
  };

  const held = lie.place * scale;
  const low = lie.low * scale;
  const size = (lie.high - lie.low) * scale;
  const box = x
    ? { left: held - 6, top: low, width: 12, height: size }
    : { left: low, top: held - 6, width: size, height: 12 };
  const said = `${Number(value.toPrecision(6))}${handle.after}`;
  const always = lie.inView && (handle.role === "fence" || handle.role === "bin-edge");
  return (
    <div
      ref={grip}
      role="slider"
      tabIndex={0}
      data-role={handle.role}
      aria-label={handle.name}
      aria-orientation={x ? "horizontal" : "vertical"}
      aria-valuemin={handle.least}
      aria-valuemax={handle.most}
      aria-valuenow={value}
      aria-valuetext={said}
      title={`${handle.name}: drag, or use the arrow keys`}
      className={`group absolute touch-none ${x ? "cursor-ew-resize" : "cursor-ns-resize"}`}
      style={box}
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={onPointerUp}
      onPointerCancel={onPointerUp}
      onKeyDown={onKeyDown}
    >
      <span
        className={`absolute ${always ? "opacity-45" : "opacity-0"} group-hover:opacity-100 group-focus:opacity-100 group-active:opacity-100 ${x ? "inset-y-[18%] left-[5.5px] border-l" : "inset-x-[18%] top-[5.5px] border-t"} border-dashed border-ink`}
      />
      <span className="number pointer-events-none absolute -top-5 left-1/2 z-10 hidden -translate-x-1/2 rounded bg-ink px-1.5 py-0.5 text-[11px] whitespace-nowrap text-sheet group-hover:block group-focus:block group-active:block">
        {said}
      </span>
    </div>
  );
}
