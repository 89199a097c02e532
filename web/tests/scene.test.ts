import { describe, expect, it } from "vitest";
import { placeOfRow, rowAt } from "../src/scene/nearest";
import { laneAt, placesOf, rowsIn, showsRows, spansIn } from "../src/scene/places";
import { placeOf, valueAtPlace } from "../src/scene/scale";
import { figures, laneOf } from "./figures";

describe("scales", () => {
  it.each(["strip", "up"] as const)("put each row's point where its value is, and read it back (%s)", (name) => {
    const { scene } = figures[name];
    const scale = scene.panels[0]?.scale;
    if (!scale) throw new Error("no panel");
    figures.values.forEach((value, i) => {
      const spot = placeOfRow(scene, i + 1);
      const along = scale.direction === "x" ? spot?.x : spot?.y;
      expect(along).toBeCloseTo(placeOf(scale, value), 2);
      expect(valueAtPlace(scale, placeOf(scale, value))).toBeCloseTo(value, 9);
    });
  });
  it("put what a logarithmic axis has no place for far outside", () => {
    const scale = figures.up.scene.panels[0]?.scale;
    if (!scale) throw new Error("no panel");
    const [low, high] = [...scale.range].sort((a, b) => a - b) as [number, number];
    for (const value of [0, -3]) {
      const place = placeOf(scale, value);
      expect(place < low || place > high).toBe(true);
    }
  });
});

describe("points", () => {
  const { scene } = figures.strip;
  it("are found under the pointer, each as its own row", () => {
    for (let row = 1; row <= figures.values.length; row++) {
      const spot = placeOfRow(scene, row);
      expect(spot).not.toBeNull();
      if (spot) expect(rowAt(scene, spot.x, spot.y)).toBe(row);
    }
    expect(rowAt(scene, -50, -50)).toBeNull();
    expect(placeOfRow(scene, 99)).toBeNull();
  });
  it("lie in the lane of their group", () => {
    figures.arms.forEach((arm, i) => {
      const spot = placeOfRow(scene, i + 1);
      expect(spot && laneAt(scene, spot)?.group).toBe(arm);
    });
  });
  it("are brushed by a rectangle, across lanes", () => {
    const whole = { left: 0, top: 0, right: scene.width, bottom: scene.height };
    expect(rowsIn(scene, whole).sort((a, b) => a - b)).toEqual(figures.values.map((_, i) => i + 1));
    const lane = laneOf(scene, "b");
    const rows = rowsIn(scene, { ...whole, top: lane.start, bottom: lane.end });
    expect(rows.map((row) => figures.arms[row - 1])).toEqual(rows.map(() => "b"));
  });
  it("have a place where none are drawn: their value in the middle of their lane", () => {
    const { scene: boxes } = figures.box;
    expect([showsRows(scene), showsRows(boxes)]).toEqual([true, false]);
    const lane = laneOf(boxes, "a");
    const spot = placesOf(boxes, [1], [lane.key], [4.5]).get(1);
    const scale = boxes.panels[0]?.scale;
    expect(spot?.x).toBeCloseTo(scale ? placeOf(scale, 4.5) : Number.NaN, 6);
    expect(spot?.y).toBeCloseTo((lane.start + lane.end) / 2, 6);
    expect(placesOf(boxes, [1], [lane.key], [4_000]).size).toBe(0);
  });
});

describe("a rectangle over lanes without points", () => {
  it("covers spans of values, lane by lane", () => {
    const { scene } = figures.box;
    const [lane, scale] = [laneOf(scene, "b"), scene.panels[0]?.scale];
    if (!scale) throw new Error("no panel");
    const within = { left: placeOf(scale, 2), right: placeOf(scale, 5), top: lane.start, bottom: lane.end };
    const [span, ...others] = spansIn(scene, within);
    expect(others).toEqual([]);
    expect(span?.lane).toBe(lane.key);
    expect([span?.low, span?.high].map((end) => end?.toFixed(6))).toEqual(["2.000000", "5.000000"]);
  });
  it("knows the panels apart", () => {
    const { scene } = figures.split;
    const [first, second] = scene.panels.map((panel) => panel.box);
    if (!first || !second) throw new Error("two panels are wanted");
    const within = { left: first[0], top: first[1], right: first[0] + first[2], bottom: first[1] + first[3] };
    const panels = spansIn(scene, within).map(({ lane }) => scene.lanes.find((other) => other.key === lane)?.panel);
    expect(new Set(panels)).toEqual(new Set([scene.panels[0]?.key]));
  });
});
