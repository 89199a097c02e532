import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import type { Handle, Recipe, Scene } from "../api/generated";
import { placeOf, valueAtPlace } from "../scene/scale";
import { withValue } from "./recipe";

interface Props {
  scene: Scene;
  scale: number;
  recipe: Recipe;
  onMove: (recipe: Recipe) => void;
  onSettle: (recipe: Recipe) => void;
}

const MOST_LANES = 40;

/** What can be dragged on the figure. A handle moves at once; the figure follows. */
export function Handles({ scene, scale, recipe, onMove, onSettle }: Props) {
  const [dragged, setDragged] = useState<{ key: string; value: number } | null>(null);
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
            onMove(withValue(recipe, handle.path, value));
          }}
          onDrop={(value) => {
            setDragged(null);
            onSettle(withValue(recipe, handle.path, value));
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
}

function Grip({ handle, scene, scale, value, onDrag, onDrop }: GripProps) {
  const grip = useRef<HTMLDivElement>(null);
  const last = useRef<number | null>(null);
  const began = useRef(value);
  const panel = scene.panels.find((p) => p.key === handle.panel);
  const lane = scene.lanes.find((l) => l.key === handle.lane);
  if (!panel || !lane) return null;
  const { range, direction } = panel.scale;
  const [c0, c1] = range;
  const at = handle.origin + handle.unit * value;
  const place = placeOf(panel.scale, at);
  const held = Math.min(Math.max(place, Math.min(c0, c1)), Math.max(c0, c1)) * scale;
  const across = direction === "x";
  const inView = Math.abs(held - place * scale) < 1;

  const limit = (wanted: number) => {
    const whole = Math.round(wanted / handle.step) * handle.step;
    return Number(Math.min(Math.max(whole, handle.least), handle.most).toFixed(4));
  };
  const valueAt = (event: PointerEvent) => {
    const sheet = grip.current?.parentElement?.getBoundingClientRect();
    const spot = sheet ? (across ? event.clientX - sheet.left : event.clientY - sheet.top) / scale : 0;
    return limit((valueAtPlace(panel.scale, spot) - handle.origin) / handle.unit);
  };
  const onPointerDown = (event: PointerEvent) => {
    event.preventDefault();
    grip.current?.focus();
    grip.current?.setPointerCapture(event.pointerId);
    last.current = value;
    began.current = value;
  };
  const onPointerMove = (event: PointerEvent) => {
    if (last.current === null) return;
    const next = valueAt(event);
    if (next === last.current) return;
    last.current = next;
    onDrag(next);
  };
  const onPointerUp = () => {
    // Previews have moved the handle's own value along: what counts is where the drag began.
    if (last.current !== null && last.current !== began.current) onDrop(last.current);
    last.current = null;
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const outward = handle.unit > 0 === (across || false) ? 1 : -1;
    const steps: Record<string, number> = {
      ArrowRight: across ? outward : 1,
      ArrowLeft: across ? -outward : -1,
      ArrowUp: across ? 1 : handle.unit > 0 ? 1 : -1,
      ArrowDown: across ? -1 : handle.unit > 0 ? -1 : 1,
      PageUp: 10,
      PageDown: -10,
    };
    const by = steps[event.key];
    if (by === undefined) return;
    event.preventDefault();
    onDrop(limit(value + by * handle.step));
  };

  const low = lane.start * scale;
  const size = (lane.end - lane.start) * scale;
  const box = across
    ? { left: held - 6, top: low, width: 12, height: size }
    : { left: low, top: held - 6, width: size, height: 12 };
  return (
    <div
      ref={grip}
      role="slider"
      tabIndex={0}
      aria-label={handle.name}
      aria-orientation={across ? "horizontal" : "vertical"}
      aria-valuemin={handle.least}
      aria-valuemax={handle.most}
      aria-valuenow={value}
      aria-valuetext={`${value} × the interquartile range`}
      title={`${handle.name}: drag, or use the arrow keys`}
      className={`group absolute touch-none ${across ? "cursor-ew-resize" : "cursor-ns-resize"}`}
      style={box}
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={onPointerUp}
      onPointerCancel={onPointerUp}
      onKeyDown={onKeyDown}
    >
      <span
        className={`absolute ${inView ? "opacity-45" : "opacity-0"} group-hover:opacity-100 group-focus:opacity-100 group-active:opacity-100 ${across ? "inset-y-[18%] left-[5.5px] border-l" : "inset-x-[18%] top-[5.5px] border-t"} border-dashed border-ink`}
      />
      <span className="number pointer-events-none absolute -top-5 left-1/2 z-10 hidden -translate-x-1/2 rounded bg-ink px-1.5 py-0.5 text-[11px] whitespace-nowrap text-sheet group-hover:block group-focus:block group-active:block">
        {value} × IQR
      </span>
    </div>
  );
}
