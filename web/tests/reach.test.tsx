// @vitest-environment jsdom
import { cleanup, render, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, beforeAll, describe, expect, it, vi } from "vitest";
import schema from "../../docs/recipe.schema.json";
import { Bench } from "../src/compare/Bench";
import { PLACES } from "../src/compare/commands/commands";
import { figures } from "./figures";
import { around, serve } from "./serving";

interface Node {
  $ref?: string;
  anyOf?: Node[];
  oneOf?: Node[];
  type?: string;
  items?: Node;
  properties?: Record<string, Node>;
}

const DEFS = schema.$defs as unknown as Record<string, Node>;
/** What the page sets elsewhere or not at all, and why. */
const ELSEWHERE: Record<string, string> = {
  echelle: "the version of the format",
  read: "the table bench says how a file is read",
  prepare: "the table bench prepares",
  made: "written when a recipe is sealed",
  left_out: "a point's card leaves its row out",
  layers: "each layer's settings come from its model, see tests/figures/test_settings.py",
  "groups.joined": "the rest as other",
  "subgroups.cut": "as groups",
  "subgroups.dates": "as groups",
  "panels.wrapped.cut": "as groups",
  "subgroups.joined": "the rest as other",
  "subgroups.order": "a split's lanes are ordered by its setting Order",
  "subgroups.labels": "named in the table",
  "panels.down": "as panels across",
  "panels.across": "as wrapped panels",
  "panels.wrapped.order": "panels are ordered by their setting Order",
  "panels.wrapped.labels": "named in the table",
  "panels.wrapped.joined": "the rest as other",
  "words.counts": "the axis label where rows are counted",
  "differences.by_row": "shown where lanes share rows",
  style: "one look, or the house style's own dialog",
};

function resolved(node: Node): Node {
  return node.$ref ? resolved(DEFS[node.$ref.split("/").at(-1) ?? ""] ?? {}) : node;
}

/** Every path of the recipe that holds a value. */
function pathsOf(node: Node, path: string): string[] {
  const here = resolved(node);
  const parts = (here.anyOf ?? here.oneOf ?? []).map(resolved).filter(({ properties }) => properties);
  if (here.anyOf || here.oneOf) return parts[0] && parts.length === 1 ? pathsOf(parts[0], path) : [path];
  if (here.properties)
    return Object.entries(here.properties).flatMap(([key, inner]) => pathsOf(inner, path ? `${path}.${key}` : key));
  const inner = here.items && resolved(here.items);
  return inner?.properties ? pathsOf(inner, path) : [path];
}

function excused(path: string): boolean {
  return Object.keys(ELSEWHERE).some((start) => path === start || path.startsWith(`${start}.`));
}

function shown(): string[] {
  return [...document.querySelectorAll("[data-path]")].flatMap((element) =>
    (element.getAttribute("data-path") ?? "").split(" "),
  );
}

beforeAll(() => {
  vi.stubGlobal(
    "ResizeObserver",
    class {
      observe = () => undefined;
      unobserve = () => undefined;
      disconnect = () => undefined;
    },
  );
  vi.stubGlobal("matchMedia", () => ({
    matches: true,
    addEventListener: () => undefined,
    removeEventListener: () => undefined,
  }));
  Element.prototype.scrollIntoView = () => undefined;
  Element.prototype.hasPointerCapture = () => false;
});
afterEach(cleanup);

describe("the page", () => {
  it("has a control for every setting of the recipe", async () => {
    const { recipe, scene } = figures.whole;
    const forms = figures.options;
    const state = {
      id: "c1",
      head: 1,
      revision: 1,
      undo: null,
      redo: null,
      recipe,
      trail: [],
      columns: figures.whole.columns,
    };
    serve({
      "GET comparisons/c1": {
        ...state,
        name: "whole",
        style: figures.whole.style,
        study: "s1",
        role: "owner",
        dismissed: [],
        remarks: [],
        earlier: false,
        newer: null,
        unreadable: null,
        locked: null,
      },
      "POST comparisons/c1/scene": scene,
      "GET forms": forms,
    });
    render(<Bench id="c1" />, { wrapper: around() });
    const user = userEvent.setup();
    await screen.findByTestId("method-note");
    const found = new Set(shown());
    const gather = () => {
      for (const path of shown()) found.add(path);
    };
    for (const tab of ["Axis", "Words", "Look", "Differences"]) {
      await user.click(screen.getByRole("tab", { name: tab }));
      gather();
    }
    for (const word of [/^Measure:/, /^Groups:/, /^Subgroups:/, /^Panels:/, /^Rows kept:/]) {
      await user.click(screen.getByRole("button", { name: word }));
      await waitFor(() => expect(document.querySelector("[data-radix-popper-content-wrapper]")).not.toBeNull());
      gather();
      await user.keyboard("{Escape}");
    }
    await user.click(screen.getByRole("button", { name: "Readings" }));
    gather();
    // What matters only beside another choice is described by the model all the same.
    for (const part of forms.parts) for (const { path } of part.settings) found.add([part.part, ...path].join("."));
    const missing = pathsOf(schema as unknown as Node, "").filter((path) => !found.has(path) && !excused(path));
    expect(missing).toEqual([]);
    // Whatever Find leads to is there.
    expect(PLACES.map(([path]) => path).filter((path) => !found.has(path) && !excused(path))).toEqual([]);
    expect(within(document.body).queryAllByText(/undefined|\[object/)).toEqual([]);
  }, 30_000);
});
