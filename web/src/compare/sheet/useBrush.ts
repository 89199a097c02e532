import { type PointerEvent, useRef, useState } from "react";
import type { Rectangle, Spot } from "../../scene/places";

/** Less is a click. */
const LEAST = 5;

/** A rectangle drawn over the figure with the mouse, in points of the sheet. */
export function useBrush(scale: number, onBrush: (within: Rectangle, add: boolean) => void) {
  const [brush, setBrush] = useState<Rectangle | null>(null);
  const began = useRef<Spot | null>(null);
  const spotOf = (event: PointerEvent): Spot => {
    const sheet = event.currentTarget.getBoundingClientRect();
    return { x: (event.clientX - sheet.left) / scale, y: (event.clientY - sheet.top) / scale };
  };
  const within = (a: Spot, b: Spot): Rectangle => ({
    left: Math.min(a.x, b.x),
    top: Math.min(a.y, b.y),
    right: Math.max(a.x, b.x),
    bottom: Math.max(a.y, b.y),
  });
  const far = (a: Spot, b: Spot) => Math.hypot(a.x - b.x, a.y - b.y) * scale >= LEAST;
  return {
    brush,
    spotOf,
    onPointerDown: (event: PointerEvent) => {
      if (event.button !== 0 || (event.target as HTMLElement).closest("button, input, [role=slider]")) return;
      began.current = spotOf(event);
    },
    onPointerMove: (event: PointerEvent) => {
      const start = began.current;
      if (!start) return;
      const spot = spotOf(event);
      if (!brush && !far(start, spot)) return;
      if (!brush) event.currentTarget.setPointerCapture(event.pointerId);
      setBrush(within(start, spot));
    },
    onPointerUp: (event: PointerEvent) => {
      const start = began.current;
      began.current = null;
      if (start && brush) onBrush(within(start, spotOf(event)), event.shiftKey);
      setBrush(null);
      return Boolean(start && brush);
    },
    onPointerCancel: () => {
      began.current = null;
      setBrush(null);
    },
  };
}
