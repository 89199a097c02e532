// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, beforeAll, describe, expect, it, vi } from "vitest";
import type { Recipe, Scene } from "../src/api/generated";
import {
  headingRoom,
  LedgerBeside,
  LedgerList,
  LedgerUnder,
  ledgerGap,
  ledgerPlace,
  ledgerWidth,
} from "../src/compare/ledger/Ledger";
import { Handles } from "../src/compare/sheet/Handles";
import { LaneNames } from "../src/compare/sheet/LaneNames";
import { levelsShown } from "../src/compare/sheet/lanes";
import { WordsInPlace } from "../src/compare/sheet/WordsInPlace";
import { placeOf } from "../src/scene/scale";
import { figures, laneOf } from "./figures";

const { scene, recipe } = figures.box;

beforeAll(() => {
  Element.prototype.setPointerCapture = () => undefined;
});
afterEach(cleanup);

describe("the ledger's place", () => {
  const many = (lanes: number): Scene => ({
    ...scene,
    lanes: Array.from({ length: lanes }, (_, i) => ({
      ...laneOf(scene, "a"),
      key: `l${i}`,
      start: i * 8,
      end: i * 8 + 8,
    })),
  });
  it("is beside lanes that run across, under those that run up, and a list where rows would meet", () => {
    expect(ledgerPlace(scene, 1)).toBe("beside");
    expect([ledgerPlace(figures.up.scene, 2), ledgerPlace(figures.up.scene, 0.5)]).toEqual(["under", "list"]);
    expect(ledgerPlace(figures.split.scene, 1)).toBe("list");
    expect([ledgerPlace(many(8), 1), ledgerPlace(many(8), 3)]).toEqual(["list", "beside"]);
  });
  it("has its columns closer together where the room is short, and is no neighbour where it is too short", () => {
    const [wide, close] = [12, 8].map((gap) => scene.width + ledgerWidth(scene, recipe, gap)) as [number, number];
    expect(wide).toBeGreaterThan(close);
    expect(ledgerGap(scene, recipe, wide, 1)).toBe(12);
    expect(ledgerGap(scene, recipe, wide - 4, 1)).toBe(8);
    expect(ledgerGap(scene, recipe, close - 4, 1)).toBeUndefined();
  });
  it("leaves room over the figure for headings of two or three lines, and not for more", () => {
    const room = (name: string) => {
      const readings = scene.readings.map((lane) => ({ ...lane, inside: [{ name, count: 1, share: 0.5 }] }));
      return headingRoom({ ...scene, readings }, recipe, 1);
    };
    expect(room("target")).toBe(0);
    const [two, three] = [room("reference of all"), room("reference interval 7–20 nmol/L")];
    expect(two).toBeLessThan(three);
    expect(three + (scene.panels[0]?.box[1] ?? 0)).toBeCloseTo(3 * 18 + 6, 6);
    expect(room("a name that is far too long for a heading of any ledger at all")).toBe(three);
  });
});

describe("the ledger", () => {
  it("has a row level with each lane", () => {
    render(<LedgerBeside scene={scene} recipe={recipe} scale={1} gap={12} onRow={vi.fn()} onSettle={vi.fn()} />);
    for (const lane of scene.lanes) {
      const row = screen.getByRole("row", { name: lane.name });
      expect(Number.parseFloat(row.style.top)).toBeCloseTo((lane.start + lane.end) / 2, 2);
      const readings = scene.readings.find((other) => other.lane === lane.key);
      expect(within(row).getAllByRole("cell")[0]?.textContent).toBe(readings?.median?.toFixed(2));
    }
  });
  it("stands in the middle of each lane that runs up", () => {
    const { scene: up, recipe: upward } = figures.up;
    render(<LedgerUnder scene={up} recipe={upward} scale={2} onRow={vi.fn()} onSettle={vi.fn()} />);
    const [first] = within(screen.getByRole("table", { name: "Readings" })).getAllByRole("row");
    const lefts = within(first as HTMLElement)
      .getAllByRole("cell")
      .map(({ style }) => Number.parseFloat(style.left));
    expect(lefts).toEqual(
      up.readings.map(({ lane }) => {
        const strip = up.lanes.find(({ key }) => key === lane);
        return strip ? strip.start + strip.end : Number.NaN;
      }),
    );
  });
  it("sorts the lanes by a reading, and the other way round once they are", async () => {
    const pressed = async (medians: Record<string, number>) => {
      const readings = scene.readings.map((lane) => ({ ...lane, median: medians[lane.group ?? ""] ?? null }));
      const onSettle = vi.fn();
      render(<LedgerList scene={{ ...scene, readings }} recipe={recipe} onRow={vi.fn()} onSettle={onSettle} />);
      await userEvent.click(screen.getByRole("button", { name: "Median" }));
      cleanup();
      return (onSettle.mock.calls[0] as [Recipe])[0].groups?.order;
    };
    expect(levelsShown(scene)).toEqual(["a", "b", "=c"]);
    expect(await pressed({ a: 2, b: 9, "=c": 5 })).toEqual(["b", "=c", "a"]);
    expect(await pressed({ a: 9, b: 5, "=c": 2 })).toEqual(["=c", "b", "a"]);
  });
  it("leads from values beyond the fences to their rows, and from none to nothing", async () => {
    const onRow = vi.fn();
    render(<LedgerList scene={scene} recipe={recipe} onRow={onRow} onSettle={vi.fn()} />);
    const beyond = scene.readings.find(({ outliers }) => outliers.length > 0);
    expect(screen.getAllByRole("button", { name: /values beyond/ })).toHaveLength(
      scene.readings.filter(({ outliers }) => outliers.length > 0).length,
    );
    const row = screen.getByRole("row", { name: beyond?.group ?? "" });
    await userEvent.click(within(row).getByRole("button", { name: /values beyond/ }));
    await userEvent.click(await screen.findByRole("menuitem", { name: /row 12/ }));
    expect(onRow).toHaveBeenCalledExactlyOnceWith(12);
    expect(figures.values[11]).toBe(40);
  });
});

describe("handles", () => {
  const put = (of: Scene = scene) => {
    const calls = { onMove: vi.fn(), onRest: vi.fn(), onSettle: vi.fn() };
    render(<Handles scene={of} scale={1} recipe={recipe} {...calls} />);
    const lane = laneOf(of, "a");
    const handle = of.handles.find(({ role, lane: key, unit }) => role === "fence" && key === lane.key && unit > 0);
    if (!handle) throw new Error("no fence");
    return { ...calls, handle, grip: screen.getByRole("slider", { name: handle.name }) };
  };
  const kOf = (call: unknown[] | undefined) => (call?.[0] as Recipe).layers[0] as { fence: { k: number } };

  it("stand where their value is", () => {
    const { handle, grip } = put();
    const scale = scene.panels[0]?.scale;
    if (!scale) throw new Error("no panel");
    const [low, high] = [...scale.range].sort((a, b) => a - b) as [number, number];
    const place = Math.min(Math.max(placeOf(scale, handle.origin + handle.unit * handle.value), low), high);
    expect(Number.parseFloat(grip.style.left) + 6).toBeCloseTo(place, 2);
    expect(grip.getAttribute("aria-valuenow")).toBe("1.5");
  });
  it.each([
    ["ArrowRight", 1],
    ["ArrowUp", 1],
    ["ArrowLeft", -1],
    ["ArrowDown", -1],
    ["PageUp", 10],
  ])("go by keys: %s is %i steps, kept once keys rest", (key, steps) => {
    const { handle, grip, onRest, onSettle } = put();
    fireEvent.keyDown(grip, { key });
    expect(kOf(onRest.mock.calls[0]).fence.k).toBeCloseTo(1.5 + steps * handle.step, 9);
    expect(onRest.mock.calls[0]?.[1]).toBe(handle.key);
    expect(onSettle).not.toHaveBeenCalled();
    fireEvent.keyDown(grip, { key: "a" });
    expect(onRest).toHaveBeenCalledTimes(1);
  });
  it("never leave their limits", () => {
    const { handle, grip, onRest } = put();
    for (let i = 0; i < 200; i++) fireEvent.keyDown(grip, { key: "PageDown" });
    expect(kOf(onRest.mock.calls.at(-1)).fence.k).toBe(handle.least);
  });
  it("follow the hand, show each value on the way and keep the last one alone", () => {
    const { handle, grip, onMove, onSettle } = put();
    const scale = scene.panels[0]?.scale;
    if (!scale) throw new Error("no panel");
    const spot = (k: number) => ({
      pointerId: 1,
      clientX: placeOf(scale, handle.origin + handle.unit * k),
      clientY: 0,
    });
    fireEvent.pointerDown(grip, spot(1.5));
    fireEvent.pointerMove(grip, spot(1));
    fireEvent.pointerMove(grip, spot(0.5));
    fireEvent.pointerUp(grip, spot(0.5));
    expect(onMove.mock.calls.map((call) => kOf(call).fence.k)).toEqual([1, 0.5]);
    expect(onSettle.mock.calls.map((call) => kOf(call).fence.k)).toEqual([0.5]);
    expect(recipe.layers[0]).toMatchObject({ fence: { k: 1.5 } });
  });
  it("change nothing by a press that does not move", () => {
    const { grip, onMove, onSettle } = put();
    const at = { pointerId: 1, clientX: Number.parseFloat(grip.style.left) + 1, clientY: 0 };
    fireEvent.pointerDown(grip, at);
    fireEvent.pointerMove(grip, { ...at, clientX: at.clientX + 1 });
    fireEvent.pointerUp(grip, at);
    expect([onMove, onSettle].map(({ mock }) => mock.calls.length)).toEqual([0, 0]);
  });
});

describe("words and names on the sheet", () => {
  it("are written anew with Enter, left with Escape, and given back by an empty line", async () => {
    const onSettle = vi.fn();
    render(<WordsInPlace scene={scene} scale={1} recipe={recipe} onSettle={onSettle} />);
    const open = async () => {
      await userEvent.click(screen.getByRole("button", { name: "Title: *Plain* {n}" }));
      return screen.getByRole("textbox", { name: "Title" });
    };
    await userEvent.type(await open(), "Other{Escape}");
    expect(onSettle).not.toHaveBeenCalled();
    const field = await open();
    await userEvent.clear(field);
    await userEvent.type(field, "  New title {Enter}");
    expect((onSettle.mock.calls[0] as [Recipe])[0].words.title).toBe("New title");
    const emptied = await open();
    await userEvent.clear(emptied);
    await userEvent.tab();
    expect((onSettle.mock.calls[1] as [Recipe])[0].words.title).toBe("");
    expect(onSettle).toHaveBeenCalledTimes(2);
  });
  it("are offered where they are not yet", async () => {
    const onSettle = vi.fn();
    const { scene: bare, recipe: plain } = figures.strip;
    render(<WordsInPlace scene={bare} scale={1} recipe={plain} onSettle={onSettle} />);
    await userEvent.click(screen.getByRole("button", { name: "+ Title" }));
    await userEvent.type(screen.getByRole("textbox", { name: "Title" }), "Now{Enter}");
    expect((onSettle.mock.calls[0] as [Recipe])[0].words.title).toBe("Now");
  });
  it("rename a lane, never to nothing", async () => {
    const onSettle = vi.fn();
    render(<LaneNames scene={scene} scale={1} recipe={recipe} onSettle={onSettle} onLook={vi.fn()} />);
    for (const [typed, labels] of [
      ["arm A", { a: "arm A" }],
      ["", {}],
    ] as const) {
      screen.getByRole("button", { name: "Lane a" }).focus();
      await userEvent.keyboard("{Enter}");
      const field = screen.getByRole("textbox");
      await userEvent.clear(field);
      await userEvent.type(field, `${typed}{Enter}`);
      expect((onSettle.mock.lastCall as [Recipe])[0].groups?.labels).toEqual(labels);
    }
  });
});
