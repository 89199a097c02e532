import { describe, expect, it } from "vitest";
import type { ColumnSummary, Guide } from "../src/api/generated";
import { withControlLines, withPairedLanes } from "../src/compare/differences/drawn";
import { binsOf } from "../src/compare/guides/bins";
import { KIND_NAMES, KINDS, placeOf, relabelled, typedPlace, usualLabel } from "../src/compare/guides/places";
import { withoutLevel } from "../src/compare/panels/ownLook";
import {
  keptLevels,
  withGroups,
  withKept,
  withLayer,
  withMeasures,
  withPanels,
  withSubgroups,
  withValue,
} from "../src/compare/recipe";
import { inOrder, levelsShown, renamed } from "../src/compare/sheet/lanes";
import { writtenOn } from "../src/compare/sheet/words";
import { figures } from "./figures";

const plain: Guide = { ...figures.options.guide, at: "median", band: null, label: "median of all" };

describe("changes of a recipe", () => {
  const { recipe } = figures.box;
  it("leave the old recipe as it was", () => {
    const before = structuredClone(recipe);
    const next = withValue(recipe, ["layers", 0, "fence", "k"], 3);
    expect(recipe).toEqual(before);
    expect(JSON.stringify(next)).not.toBe(JSON.stringify(recipe));
  });
  it("take subgroups away with their groups, and where several measures stand in each group", () => {
    const split = withSubgroups(recipe, "sex", figures.options, "box");
    expect(split.subgroups?.column).toBe("sex");
    expect(withGroups(split, null, figures.options, "box")).toMatchObject({ groups: null, subgroups: null });
    expect(withMeasures(split, ["level", "weight"])).toMatchObject({ groups: { column: "arm" }, subgroups: null });
    const units = [
      { name: "level", unit: "mmol/L" },
      { name: "weight", unit: "kg" },
    ] as ColumnSummary[];
    const apart = withMeasures(split, ["level", "weight"], units);
    expect(apart).toMatchObject({
      measure: { placed: "panels" },
      subgroups: { column: "sex" },
      panels: { wrapped: null },
    });
    expect(withMeasures(split, ["level"]).groups?.column).toBe("arm");
  });
  it("add a layer so that it is readable on what is there", () => {
    const offers = figures.options.layers;
    const offer = (kind: string) => offers.find(({ layer }) => layer === kind) as (typeof offers)[number];
    const added = withLayer(figures.histogram.recipe, offers, offer("density"));
    expect(added.layers.map(({ layer }) => layer)).toEqual(["bins", "density"]);
    expect(added.layers[1]).toMatchObject({ side: "above", fill: 0 });
    const alone = withLayer(figures.strip.recipe, offers, offer("density")).layers[0];
    expect(alone).toMatchObject({ side: "both", fill: 0.85 });
  });
  it("keep one condition a column", () => {
    const levels = ["north", "south", "west"].map((level) => ({ level, count: 4 }));
    const site = { name: "site", distinct: 3, levels } as ColumnSummary;
    const kept = withKept(withKept(recipe, site, ["north"]), site, ["south"]);
    expect(kept.keep).toEqual([{ column: "site", is: ["south"] }]);
    expect(keptLevels(kept, site)).toEqual(["south"]);
    expect(withKept(kept, site, ["north", "south", "west"]).keep).toEqual([]);
    // Of a column with more levels than are known here the others stay kept.
    const long = withKept(recipe, { ...site, distinct: 900 }, ["north", "west"]);
    expect(long.keep).toEqual([{ column: "site", is_not: ["south"] }]);
    expect(keptLevels(long, site)).toEqual(["north", "west"]);
    expect(withPanels(recipe, "site", figures.options).panels.wrapped?.column).toBe("site");
  });
  it("reorder and rename lanes by their level", () => {
    const levels = levelsShown(figures.box.scene);
    expect([...levels].sort()).toEqual(["=c", "a", "b"]);
    expect(inOrder(recipe, [...levels].reverse()).groups?.order).toEqual([...levels].reverse());
    const named = renamed(recipe, "a", "arm A");
    expect(named.groups?.labels).toEqual({ a: "arm A" });
    expect(renamed(named, "a", "").groups?.labels).toEqual({});
  });
  it("take back the figure's own colour of one level, and then of all", () => {
    const own = {
      ...recipe.own_look,
      level_colours: { arm: { a: "#112233", b: "#445566" }, site: { north: "#778899" } },
    };
    expect(withoutLevel(own, "arm", "a")).toEqual({ arm: { b: "#445566" }, site: { north: "#778899" } });
    const one = { ...own, level_colours: { arm: { a: "#112233" } } };
    expect([withoutLevel(one, "arm", "a"), withoutLevel(recipe.own_look, "arm", "a")]).toEqual([null, null]);
    expect(own.level_colours.arm).toEqual({ a: "#112233", b: "#445566" });
  });
  it("bring paired lanes with their guides and take only those away again", () => {
    const own = { ...recipe, guides: [plain] };
    const drawn = withPairedLanes(own, figures.options, true);
    expect(drawn.guides.map(({ at }) => at)).toEqual(["median", 0]);
    expect(withPairedLanes(drawn, figures.options, false).guides).toEqual([plain]);
    expect(withControlLines(own, figures.options).layers.map(({ layer }) => layer)).toEqual(["points", "control"]);
  });
});

describe("guides", () => {
  it.each(KIND_NAMES)("of a kind are known again with their numbers (%s)", (kind) => {
    const made = KINDS[kind].make([...KINDS[kind].usual]);
    expect(made).not.toBeNull();
    expect(placeOf({ ...plain, ...made })).toEqual({ kind, numbers: KINDS[kind].usual });
  });
  it.each([
    ["line", "7,5", { at: 7.5, band: null }],
    ["line", "20; 7", { at: null, band: [7, 20] }],
    ["band", "7", { at: 7, band: null }],
    ["percentile", "95", { at: { percentile: 95 }, band: null }],
    ["percentile", "100", null],
    ["percentiles", "97; 3", null],
    ["spread", "-1", null],
    ["away", "-2", { at: { sds: -2 }, band: null }],
    ["line", "about ten", null],
    ["band", "7; 7", null],
    ["line", "1; 2; 3", null],
  ] as const)("are typed: %s “%s”", (kind, text, wanted) => {
    expect(typedPlace(kind, text)).toEqual(wanted);
  });
  it("keep a label that somebody gave, and renew one that only said where they stood", () => {
    expect(usualLabel(plain)).toBe("median of all");
    const spread = { ...plain, at: null, band: [{ sds: -2 }, { sds: 2 }] } as Guide;
    expect(relabelled(plain, spread).label).toBe("mean ± 2 SD of all");
    expect(relabelled(plain, { ...plain, group: "a" }).label).toBe("median of a");
    expect(relabelled({ ...plain, label: "mine" }, { ...spread, label: "mine" }).label).toBe("mine");
  });
  it("become bins that hold every value, named and open at both sides", () => {
    const { recipe, scene } = figures.histogram;
    const bins = binsOf(recipe, scene)?.layers.find((layer) => layer.layer === "bins");
    expect(bins).toMatchObject({
      edges: [1.25, 2, 5, 40],
      names: ["below 2", "target", "above 5"],
      held_below: [2],
      open_below: true,
      open_above: true,
    });
    const done = binsOf(recipe, scene);
    expect(done && binsOf(done, scene)).toBeNull();
    expect(binsOf(figures.box.recipe, figures.box.scene)).toBeNull();
  });
});

describe("words on the sheet", () => {
  it("are found where they stand and changed in the recipe", () => {
    const { recipe, scene } = figures.box;
    const found = new Map(writtenOn(scene, recipe).map((one) => [one.name, one]));
    expect([...found.keys()].sort()).toEqual(["Axis label", "Caption", "Groups label", "Title"]);
    const title = found.get("Title");
    expect(title?.value).toBe("*Plain* {n}");
    expect(title?.change("New").words.title).toBe("New");
    expect(found.get("Axis label")?.value).toBe("level (mmol/L)");
    const [left, top, right, bottom] = title?.box ?? [0, 0, 0, 0];
    expect(right - left).toBeGreaterThan(10);
    expect(bottom - top).toBeLessThan(30);
  });
  it("are none where the sheet still shows what the recipe has just left", () => {
    const { recipe, scene } = figures.split;
    const left = { ...recipe, subgroups: null, panels: { ...recipe.panels, wrapped: null } };
    expect(writtenOn(scene, left).map(({ name, missing }) => [name, missing])).toEqual([
      ["Groups label", false],
      ["Axis label", false],
      ["Title", true],
    ]);
  });
  it("rename panels and subgroups, and give their own name back", () => {
    const { recipe, scene } = figures.split;
    const named = writtenOn(scene, recipe);
    const panel = named.find(({ name }) => name === "Panel south");
    const sex = named.find(({ name }) => name === "Subgroup m");
    expect(panel?.change("South wing").panels.wrapped?.labels).toEqual({ south: "South wing" });
    expect(sex?.change("men").subgroups?.labels).toEqual({ m: "men" });
    const next = panel?.change("South wing") ?? recipe;
    expect(
      writtenOn(scene, next)
        .find(({ key }) => key === panel?.key)
        ?.change("").panels.wrapped?.labels,
    ).toEqual({});
  });
});
