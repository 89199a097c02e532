// @vitest-environment jsdom
import { act, cleanup, render, screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { FolioState, SetFolio } from "../src/api/generated";
import { FolioBench } from "../src/folio/FolioBench";
import { useNotices } from "../src/ui/Notices";
import { around, later, refusal, serve } from "./serving";

const HERE = "folios/f1";
const KEY = "One reader’s key for all";
const AXIS = "One axis for figures of one measure";
const NOTE = "One method note for all";
const begun: FolioState = {
  id: "f1",
  name: "Figure 2",
  study: "s1",
  study_name: "Night shift",
  role: "owner",
  revision: 1,
  page: { page: "A4", columns: 2, letters: "A", one_axis: false, note: true, key: false, title: "" },
  figures: [],
  offered: [],
  version: 1,
  locked: "",
};

/** A folio over a server that keeps what it is sent, each save when it is told to. */
async function opened() {
  let now = begun;
  const waiting: (() => void)[] = [];
  const server = serve({
    [`GET ${HERE}`]: () => now,
    [`PUT ${HERE}`]: (body: SetFolio) => {
      const { promise, give } = later<FolioState>();
      waiting.push(() => {
        now = { ...now, name: body.name, page: { ...now.page, ...body.page }, revision: body.revision + 1 };
        give(now);
      });
      return promise;
    },
  });
  const view = render(<FolioBench id="f1" />, { wrapper: around() });
  await screen.findByRole("checkbox", { name: KEY });
  const sent = () => server.of(`PUT ${HERE}`) as SetFolio[];
  /** The next save reaches the server and is answered. */
  const answered = async () => {
    await waitFor(() => expect(waiting).not.toHaveLength(0));
    await act(async () => waiting.shift()?.());
  };
  return { server, sent, answered, redraw: () => view.rerender(<FolioBench id="f1" />) };
}

const box = (name: string) => screen.getByRole<HTMLInputElement>("checkbox", { name });

describe("a folio's page", () => {
  afterEach(() => {
    cleanup();
    vi.unstubAllGlobals();
  });

  it("shows a press at once, also while the one before is still being saved", async () => {
    const { sent, answered, redraw } = await opened();
    const shown = () => [NOTE, AXIS, KEY].map((name) => box(name).checked);
    // What follows a press must be there within the same turn of the browser.
    const pressed = async (name: string) => {
      box(name).click();
      await Promise.resolve();
      const seen = shown();
      redraw();
      return seen;
    };
    expect(await pressed(NOTE)).toEqual([false, false, false]);
    expect(await pressed(AXIS)).toEqual([false, true, false]);
    expect(await pressed(KEY)).toEqual([false, true, true]);
    for (const _ of "123") {
      await answered();
      expect(shown()).toEqual([false, true, true]);
    }
    expect(sent().map(({ revision, page }) => [revision, page.note, page.one_axis, page.key])).toEqual([
      [1, false, false, false],
      [2, false, true, true],
      [3, false, true, true],
    ]);
  });

  it("goes back to what is kept when a change is refused, and says why", async () => {
    const { server } = await opened();
    server.answer(`PUT ${HERE}`, refusal(409, "Somebody else changed this folio meanwhile"));
    await act(async () => box(KEY).click());
    await waitFor(() => expect(box(KEY).checked).toBe(false));
    expect(JSON.stringify(useNotices.getState().notices)).toContain("Somebody else changed this folio meanwhile");
    expect(server.of(`GET ${HERE}`)).toHaveLength(2);
  });
});
