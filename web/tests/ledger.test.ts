// @vitest-environment jsdom
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Recipe, Scene } from "../src/api/generated";
import { pWords } from "../src/compare/differences/words";
import { ledgerLines } from "../src/compare/ledger/copyLedger";
import { fixed, placesOf, READINGS, readingsOf, sortedBy } from "../src/compare/ledger/readings";
import { Previewer } from "../src/compare/store/previewer";
import { typedNumber } from "../src/ui/numbers";
import { say, spaced } from "../src/words";
import { figures, laneOf } from "./figures";

describe("numbers as they are read", () => {
  it("are what files write", () => {
    expect(figures.read.map(([value, places]) => fixed(value, places))).toEqual(
      figures.read.map(([, , text]) => text),
    );
  });
  it.each([
    [null, 2, "–"],
    [-1.005, 1, "−1.0"],
    [0, 2, "0.00"],
    [12_345_678, 0, "1.23e+7"],
    [0.00001, 2, "0.0000100"],
  ] as const)("%s with %i decimals is %s", (value, places, words) => {
    expect(fixed(value, places)).toBe(words);
  });
  it("have the decimal mark of whoever reads them", () => {
    document.head.innerHTML = '<meta name="decimal-mark" content="comma">';
    expect([fixed(-1.25, 2), fixed(1234567.5, 1), pWords(0.0312), fixed(0.00001, 2)]).toEqual([
      "−1,25",
      "1234567,5",
      "p = 0,03",
      "0,0000100",
    ]);
    document.head.innerHTML = "";
    expect(fixed(-1.25, 2)).toBe("−1.25");
  });
  it("are typed with a point or a comma", () => {
    expect(["1,5", " 2.25 ", "1e3", "", "x", "1;2"].map(typedNumber)).toEqual([1.5, 2.25, 1000, null, null, null]);
    expect([
      spaced(1448),
      spaced(999),
      say("count-rows", { count: 1 }),
      say("count-rows", { count: 1234567 }),
    ]).toEqual(["1 448", "999", "1 row", "1 234 567 rows"]);
  });
});

describe("the ledger", () => {
  const { scene, recipe } = figures.box;
  it("has a column for each guide, empty where it does not hold", () => {
    const readings = readingsOf(scene, recipe.ledger);
    expect(readings.map(({ name }) => name)).toEqual([
      "Median",
      "Quartiles",
      "Mean ± SD",
      "Beyond",
      "target",
      "above limit",
    ]);
    const of = (name: string, level: string) => {
      const lane = scene.readings.find((lane) => lane.group === level);
      return lane && readings.find((lane) => lane.name === name)?.show(lane, placesOf(scene));
    };
    expect(of("target", "a")).toBe("2 · 40 %");
    expect([of("above limit", "a"), of("above limit", "b")]).toEqual(["–", "0 · 0 %"]);
  });
  it("is copied in full digits, with names that no spreadsheet runs", () => {
    const [head, ...lines] = ledgerLines(scene);
    expect(head?.slice(0, 2)).toEqual(["lane", "n"]);
    expect(head?.slice(-4)).toEqual(["target: n", "target: share", "above limit: n", "above limit: share"]);
    expect(lines.map(([lane]) => lane).sort()).toEqual(["'=c", "a", "b"]);
    expect(lines.every((line) => line.length === head?.length)).toBe(true);
    expect(ledgerLines(figures.split.scene)[0]?.slice(0, 2)).toEqual(["panel", "lane"]);
  });
  it("sorts lanes by a reading and sets them against one", () => {
    const down = sortedBy(scene, READINGS.median, true);
    expect(down).toEqual([...sortedBy(scene, READINGS.median, false)].reverse());
    const against = readingsOf(scene, { ...recipe.ledger, reference: "b" });
    const lanes = new Map(scene.readings.map((lane) => [lane.group, lane]));
    const change = against.find(({ name }) => name === "Δ median");
    const [a, b] = [lanes.get("a"), lanes.get("b")];
    if (!a || !b || !change) throw new Error("lanes are missing");
    expect(change.by(a)).toBeCloseTo((a.median ?? 0) - (b.median ?? 0), 12);
    expect(change.show(b, 1)).toBe("ref.");
    expect(laneOf(scene, "a").name).toBe("a");
  });
});

describe("previews", () => {
  afterEach(() => vi.unstubAllGlobals());
  it("are one at a time, and of those that wait the latest wins", async () => {
    const asked: string[] = [];
    const answers: (() => void)[] = [];
    vi.stubGlobal("fetch", async (request: Request) => {
      asked.push((await request.json()).recipe.words.title);
      return new Promise((done) => answers.push(() => done(new Response(JSON.stringify(figures.box.scene)))));
    });
    const drawn: string[] = [];
    const faults: unknown[] = [];
    const previewer = new Previewer(
      "x",
      (_: Scene, recipe: Recipe) => drawn.push(recipe.words.title),
      (fault) => faults.push(fault),
      () => undefined,
    );
    const titled = (title: string) => ({ ...figures.box.recipe, words: { ...figures.box.recipe.words, title } });
    for (const title of ["1", "2", "3"]) previewer.ask(titled(title));
    await vi.waitFor(() => expect(answers).toHaveLength(1));
    answers[0]?.();
    await vi.waitFor(() => expect(answers).toHaveLength(2));
    previewer.ask(titled("4"));
    answers[1]?.();
    await vi.waitFor(() => expect(answers).toHaveLength(3));
    answers[2]?.();
    await vi.waitFor(() => expect(drawn).toEqual(["1", "3", "4"]));
    expect(asked).toEqual(["1", "3", "4"]);
    expect(faults).toEqual([]);
  });
});

it("a message or a value that is missing is a fault and never shown", () => {
  expect(() => say("count-nothing" as never)).toThrow("count-nothing");
  expect(() => say("count-rows")).toThrow();
});
