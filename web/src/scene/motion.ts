import { type RefObject, useLayoutEffect, useRef } from "react";
import type { Scene } from "../api/generated";
import type { Spot } from "./places";

const LONG = 200;
const MOST_MARKS = 400;

/** What a figure is, apart from its numbers: marks move only when this changes, never while something is dragged. */
function makeUp(scene: Scene): string {
  const layers = [...new Set(scene.parts.map((part) => part.layer))];
  return JSON.stringify([scene.form, scene.lanes.map((lane) => [lane.group, lane.subgroup, lane.panel]), layers]);
}

/** A name that a mark keeps through forms: its lane by group and subgroup, and its role. */
function nameOf(mark: Element, scene: Scene): string {
  const lane = scene.lanes.find((lane) => lane.key === mark.getAttribute("data-lane"));
  return JSON.stringify([lane?.group, lane?.subgroup, lane?.panel, mark.getAttribute("data-role")]);
}

/** Marks move from their old place to the new one when form, order or layers change; they fade in where they are new. */
export function useMotion(sheet: RefObject<HTMLElement | null>, scene: Scene): void {
  const before = useRef<{ makeUp: string; middles: Map<string, Spot> } | null>(null);
  useLayoutEffect(() => {
    const element = sheet.current;
    if (!element || matchMedia("(prefers-reduced-motion: reduce)").matches) return;
    const now = makeUp(scene);
    const old = before.current;
    if (old?.makeUp === now) return;
    const marks = marksOf(element);
    const sheetBox = element.getBoundingClientRect();
    // Where marks are is read before any of them is set in motion.
    const middles = marks.map((mark) => middleOf(mark.getBoundingClientRect(), sheetBox));
    const scale = sheetBox.width / scene.width || 1;
    before.current = {
      makeUp: now,
      middles: new Map(marks.map((mark, i) => [nameOf(mark, scene), middles[i] as Spot])),
    };
    if (!old) return;
    marks.forEach((mark, i) => {
      const from = old.middles.get(nameOf(mark, scene));
      const to = middles[i] as Spot;
      const away = from && `${(from.x - to.x) / scale}px ${(from.y - to.y) / scale}px`;
      const frames = away ? [{ translate: away }, { translate: "0 0" }] : [{ opacity: 0 }, { opacity: 1 }];
      mark.animate(frames, { duration: LONG, easing: "ease-out" });
    });
  }, [sheet, scene]);
}

function marksOf(sheet: HTMLElement): Element[] {
  return [...sheet.querySelectorAll("[data-lane][data-layer]")].slice(0, MOST_MARKS);
}

function middleOf(box: DOMRect, sheet: DOMRect): Spot {
  return { x: box.left + box.width / 2 - sheet.left, y: box.top + box.height / 2 - sheet.top };
}
