import { describe, expect, it } from "vitest";
import {
  beginStep,
  fieldsOf,
  keysFor,
  lacking,
  menuOf,
  quoted,
  STEP_NAMES,
  type StepContext,
  type StepName,
  type StepRecord,
  withValue,
} from "../src/table/steps";
import { columns, stepModels } from "./figures";

const lots = {
  id: "t2",
  name: "participants.csv",
  rows: 3,
  columns: ["age", "sample"],
  reference: { name: "participants.csv", sha256: "0".repeat(64), options: {}, prepare: [] },
} as unknown as StepContext["tables"][number];
const context: StepContext = { columns, tables: [lots] };

function modelOf(name: string) {
  const found = Object.values(stepModels).find((value) => value.properties.step?.const === name);
  if (!found) throw new Error(`no step ${name}`);
  return found;
}

/** Words that a property may be, where it is one of a few. */
function wordsOf(property: { enum?: string[]; anyOf?: { enum?: string[] }[] } | undefined): string[] {
  return property?.enum ?? property?.anyOf?.flatMap((one) => one.enum ?? []) ?? [];
}

describe("steps of a preparation", () => {
  it("are all in the menu, once", () => {
    const known = Object.values(stepModels).flatMap(({ properties }) => properties.step?.const ?? []);
    expect([...STEP_NAMES].sort()).toEqual(known.sort());
    const offered = (here: StepContext) => menuOf(here).flatMap(([, forms]) => forms.map(({ step }) => step));
    // Rows are left out in the table itself, and tables come in where there are some.
    expect(offered(context)).toEqual(STEP_NAMES.filter((name) => name !== "leave out"));
    expect(offered({ ...context, tables: [] })).not.toEqual(expect.arrayContaining(["join"]));
  });

  it.each(STEP_NAMES)("%s begins with everything its model asks for, and nothing else", (name) => {
    const { properties, required = [] } = modelOf(name);
    const begun = Object.keys(beginStep(name, context));
    expect(Object.keys(properties)).toEqual(expect.arrayContaining(begun));
    expect(begun).toEqual(expect.arrayContaining(required));
  });

  it.each(STEP_NAMES)("%s asks for fields of its model, in words that the model knows", (name) => {
    const { properties } = modelOf(name);
    const begun = beginStep(name, context);
    for (const field of fieldsOf(begun)) {
      expect(Object.keys(properties)).toContain(field.key);
      if (field.asks !== "choice") continue;
      expect([...field.options].sort()).toEqual(wordsOf(properties[field.key]).sort());
      expect([...field.options, field.none]).toContain((begun as Record<string, unknown>)[field.key] ?? field.none);
    }
  });

  it("begin with the column that was asked, else with one that fits", () => {
    const begun = (name: StepName, column?: string) => beginStep(name, context, column);
    expect(begun("keep")).toMatchObject({ where: { column: "arm", is: ["a"] } });
    expect(begun("keep", "level")).toMatchObject({ where: { column: "level", missing: false } });
    expect(begun("order", "arm")).toMatchObject({
      levels: columns.find(({ name }) => name === "arm")?.levels.map(({ level }) => level),
    });
    expect(begun("stand-in")).toMatchObject({ column: "level" });
    expect(begun("combine")).toMatchObject({ by: ["sample"] });
    expect(begun("date part")).toMatchObject({ column: "drawn" });
    expect(begun("intervals", "night shifts")).toMatchObject({ edges: [5.5], to: "night shifts class" });
    expect(begun("derive")).toMatchObject({ formula: 'log10("night shifts")' });
    expect(begun("join")).toMatchObject({ table: lots.reference, keys: [{ here: "sample", there: "sample" }] });
    expect(begun("wide to long")).toMatchObject({ columns: ["night shifts", "level"] });
  });

  it("take keys anew with another table", () => {
    const other = { ...lots, id: "t3", columns: ["arm"], reference: { ...lots.reference, sha256: "1".repeat(64) } };
    const here = { ...context, tables: [lots, other] };
    const joined = withValue(beginStep("join", here), "table", other.reference, here);
    expect(joined).toMatchObject({ table: other.reference, keys: [{ here: "arm", there: "arm" }] });
  });

  it("say what they still need", () => {
    const needs = (step: object) => lacking(step as StepRecord);
    expect(needs({ ...beginStep("rename", context), to: "" })).toBe("New name");
    expect(needs({ ...beginStep("rename", context), to: "new" })).toBeNull();
    expect(needs({ ...beginStep("unit", context), unit: "" })).toBeNull();
    expect(needs(beginStep("join levels", context))).toBe("Levels");
    expect(needs(beginStep("labels", context))).toBe("Level is");
    expect(needs(beginStep("relative", context))).toBeNull();
  });

  it("ask for what the step has come to: factors by a unit column, how a date is written", () => {
    const fields = (step: object) => fieldsOf(step as StepRecord).map(({ key }) => key);
    const convert = beginStep("convert", context);
    expect(fields(convert)).toContain("factor");
    expect(fields({ ...convert, by: "arm" })).toEqual(expect.arrayContaining(["factors"]));
    expect(fields({ ...convert, by: "arm" })).not.toContain("factor");
    const kind = beginStep("kind", context);
    expect(fields(kind)).not.toContain("dates");
    expect(fields({ ...kind, kind: "date" })).toContain("dates");
  });

  it("have keys where tables share none, and quote names that formulas could not read", () => {
    expect(keysFor({ columns: columns.slice(0, 1), tables: [] }, { ...lots, columns: ["person"] })).toEqual([
      { here: "sample", there: "person" },
    ]);
    expect(keysFor(context, undefined)).toEqual([{ here: "sample", there: "" }]);
    expect(["level", "night shifts", 'a "b"', "µ_2", "2x"].map(quoted)).toEqual([
      "level",
      '"night shifts"',
      '"a ""b"""',
      "µ_2",
      '"2x"',
    ]);
  });
});
