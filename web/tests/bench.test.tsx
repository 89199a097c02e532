// @vitest-environment jsdom
import { act, renderHook, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { ComparisonState, Recipe } from "../src/api/generated";
import { goOn, useSession } from "../src/api/session";
import { heldDraft, holdDraft } from "../src/compare/store/drafts";
import { useNotices } from "../src/ui/Notices";
import { figures } from "./figures";
import { around, later, refusal, serve } from "./serving";
import { useWholeBench } from "./wholeBench";

const HERE = "comparisons/c1";

function titled(title: string): Recipe {
  return { ...figures.box.recipe, words: { ...figures.box.recipe.words, title } };
}

function state(head: number, recipe: Recipe, more: Partial<ComparisonState> = {}): ComparisonState {
  const undo = head > 1 ? head - 1 : null;
  return { id: "c1", role: "owner", head, revision: head, undo, redo: null, recipe, ...more } as ComparisonState;
}

/** A bench over a server that keeps every state it is sent. */
async function opened(first = "1") {
  const kept = [state(1, titled("1"))];
  const newest = () => kept.at(-1) as ComparisonState;
  const server = serve({
    [`GET ${HERE}`]: () => newest(),
    [`POST ${HERE}/scene`]: ({ recipe }: { recipe: Recipe }) => ({
      ...figures.box.scene,
      note: recipe.words.title,
    }),
    [`POST ${HERE}/trail`]: ({ recipe }: { recipe: Recipe }) => {
      kept.push(state(newest().revision + 1, recipe));
      return newest();
    },
    [`PUT ${HERE}/head`]: ({ entry }: { entry: number }) => {
      const at = kept.find(({ head }) => head === entry) as ComparisonState;
      kept.push({ ...at, revision: newest().revision + 1 });
      return newest();
    },
  });
  const bench = renderHook(() => useWholeBench("c1"), { wrapper: around() });
  await waitFor(() => expect(bench.result.current.scene?.note).toBe(first));
  const title = () => bench.result.current.recipe?.words.title;
  const drawn = () => bench.result.current.scene?.note;
  return { server, bench, title, drawn, now: () => bench.result.current };
}

describe("the bench", () => {
  beforeEach(() => {
    useNotices.setState({ notices: [] });
    localStorage.clear();
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it("shows a change at once, keeps it as a state and asks for its figure once", async () => {
    const { server, now, title, drawn } = await opened();
    act(() => now().settle(titled("2")));
    expect(title()).toBe("2");
    await waitFor(() => expect(now().comparison?.head).toBe(2));
    await waitFor(() => expect(drawn()).toBe("2"));
    expect(server.of(`POST ${HERE}/trail`)).toEqual([{ revision: 1, recipe: titled("2") }]);
    expect(server.of(`POST ${HERE}/scene`)).toHaveLength(2);
  });

  it("asks for a change's figure first and keeps it once that is drawn, or takes too long", async () => {
    const { server, now } = await opened();
    const scene = (title: string) => ({ ...figures.box.scene, note: title });
    const trail = () => server.of(`POST ${HERE}/trail`).length;
    const drawing = later();
    server.answer(`POST ${HERE}/scene`, () => drawing.promise);
    act(() => now().settle(titled("2")));
    await waitFor(() => expect(server.asked.at(-1)?.what).toBe(`POST ${HERE}/scene`));
    await act(() => new Promise((done) => setTimeout(done, 60)));
    expect(trail()).toBe(0);
    await act(async () => drawing.give(scene("2")));
    await waitFor(() => expect(trail()).toBe(1));
    // A figure that never comes holds nothing up.
    server.answer(`POST ${HERE}/scene`, () => new Promise(() => undefined));
    act(() => now().settle(titled("3")));
    await waitFor(() => expect(trail()).toBe(2));
  });

  it("keeps changes one after the other, each on the state that the one before made", async () => {
    const { server, now, title } = await opened();
    act(() => {
      now().settle(titled("2"));
      now().settle(titled("3"));
    });
    expect(title()).toBe("3");
    expect((await now().settledHead())?.entry).toBe(3);
    expect(server.of(`POST ${HERE}/trail`)).toEqual([
      { revision: 1, recipe: titled("2") },
      { revision: 2, recipe: titled("3") },
    ]);
  });

  it("says why a figure cannot be drawn with its ways out, until the next change", async () => {
    const { server, now, title } = await opened();
    const mends = [{ words: "Linear axis", changes: [{ path: ["words", "title"], value: "linear" }], step: null }];
    const no = () =>
      new Response(JSON.stringify({ what: "No place", where: "$.axis", remedy: "", mends }), { status: 422 });
    server.answer(`POST ${HERE}/trail`, no);
    act(() => now().settle(titled("log")));
    await waitFor(() => expect(useNotices.getState().notices[0]?.actions[0]?.name).toBe("Linear axis"));
    server.answer(`POST ${HERE}/trail`, state(2, titled("linear"), { revision: 2 }));
    act(() => useNotices.getState().notices[0]?.actions[0]?.run());
    await waitFor(() => expect(title()).toBe("linear"));
    await waitFor(() =>
      expect(server.of(`POST ${HERE}/trail`).at(-1)).toEqual({ revision: 1, recipe: titled("linear") }),
    );
    expect(useNotices.getState().notices).toEqual([]);
  });

  it("keeps what is in the hand while an earlier change comes back", async () => {
    const { server, now, title, drawn } = await opened();
    const slow = later<ComparisonState>();
    server.answer(`POST ${HERE}/trail`, () => slow.promise);
    act(() => now().settle(titled("2")));
    act(() => now().preview(titled("in the hand")));
    slow.give(state(2, titled("2")));
    await waitFor(() => expect(now().comparison?.head).toBe(2));
    expect(title()).toBe("in the hand");
    await waitFor(() => expect(drawn()).toBe("in the hand"));
    act(() => now().step("undo"));
    await waitFor(() => expect([title(), drawn()]).toEqual(["1", "1"]));
  });

  it("goes two steps back for two presses", async () => {
    const { server, now, drawn } = await opened();
    act(() => now().settle(titled("2")));
    act(() => now().settle(titled("3")));
    act(() => now().step("undo"));
    act(() => now().step("undo"));
    await waitFor(() => expect(drawn()).toBe("1"));
    expect(server.of(`PUT ${HERE}/head`)).toEqual([
      { revision: 3, entry: 2 },
      { revision: 4, entry: 1 },
    ]);
    act(() => now().step("undo"));
    expect((await now().settledHead())?.entry).toBe(1);
    expect(server.of(`PUT ${HERE}/head`)).toHaveLength(2);
  });

  it("makes one state of the steps of one control by keys, and another where the control changes", async () => {
    const { server, now } = await opened();
    vi.useFakeTimers({ toFake: ["setTimeout", "clearTimeout"] });
    act(() => now().rest(titled("a"), "fence"));
    act(() => now().rest(titled("ab"), "fence"));
    expect(server.of(`POST ${HERE}/trail`)).toEqual([]);
    act(() => now().rest(titled("abc"), "smoothing"));
    act(() => vi.advanceTimersByTime(800));
    vi.useRealTimers();
    expect((await now().settledHead())?.entry).toBe(3);
    const kept = server.of(`POST ${HERE}/trail`) as { recipe: Recipe }[];
    expect(kept.map(({ recipe }) => recipe.words.title)).toEqual(["ab", "abc"]);
  });

  it("keeps what still rests when it is undone, exported or left", async () => {
    const { server, now, bench } = await opened();
    act(() => now().rest(titled("a"), "fence"));
    expect((await now().settledHead())?.entry).toBe(2);
    act(() => now().rest(titled("b"), "fence"));
    bench.unmount();
    await waitFor(() => expect(server.of(`POST ${HERE}/trail`)).toHaveLength(2));
  });

  it("shows theirs where somebody else was faster, offers mine, and goes on from theirs", async () => {
    const { server, now, title, drawn } = await opened();
    server.answer(`POST ${HERE}/trail`, () => {
      const trail = [
        { number: 2, refused: false },
        { number: 3, refused: true },
      ] as ComparisonState["trail"];
      server.answer(`GET ${HERE}`, state(2, titled("theirs"), { revision: 5, trail }));
      return refusal(409, "Somebody changed it");
    });
    act(() => now().settle(titled("mine")));
    await waitFor(() => expect([title(), drawn()]).toEqual(["theirs", "theirs"]));
    await waitFor(() => expect(useNotices.getState().notices[0]?.actions[0]?.name).toBe("Show mine"));
    server.answer(`POST ${HERE}/trail`, state(4, titled("next"), { revision: 6 }));
    act(() => now().settle(titled("next")));
    await waitFor(() => expect(now().comparison?.revision).toBe(6));
    expect(server.of(`POST ${HERE}/trail`).map((body) => (body as { revision: number }).revision)).toEqual([1, 5]);
  });

  it("keeps a change on the page, and over a reload, until there is a server that keeps it", async () => {
    const { server, now, title, bench } = await opened();
    let answers: Response | ComparisonState = refusal(503, "The database is away for a moment");
    server.answer(`POST ${HERE}/trail`, () => (answers instanceof Response ? answers.clone() : answers));
    act(() => now().settle(titled("mine")));
    await waitFor(() => expect(now().unsaved).toBe("The database is away for a moment"));
    expect(title()).toBe("mine");
    expect(heldDraft("c1")).toEqual({ recipe: titled("mine"), revision: 1 });
    expect(useNotices.getState().notices).toEqual([]);
    answers = state(2, titled("mine"));
    act(() => void window.dispatchEvent(new Event("online")));
    await waitFor(() => expect(now().unsaved).toBeNull());
    expect([title(), heldDraft("c1")]).toEqual(["mine", null]);
    bench.unmount();
  });

  it("takes a change up again that was not kept when the page was left", async () => {
    holdDraft("c1", { recipe: titled("left over"), revision: 1 });
    const { server, now } = await opened("left over");
    await waitFor(() => expect(now().comparison?.head).toBe(2));
    expect(server.of(`POST ${HERE}/trail`)).toEqual([{ revision: 1, recipe: titled("left over") }]);
    expect(heldDraft("c1")).toBeNull();
  });

  it("waits for a server that is away when it is opened, and draws then", async () => {
    let away = true;
    const server = serve({
      [`GET ${HERE}`]: () => (away ? refusal(503, "The database is away") : state(1, titled("1"))),
      [`POST ${HERE}/scene`]: { ...figures.box.scene, note: "1" },
    });
    const bench = renderHook(() => useWholeBench("c1"), { wrapper: around() });
    await waitFor(() => expect(bench.result.current.away).toBe("The database is away"));
    away = false;
    act(() => void window.dispatchEvent(new Event("online")));
    await waitFor(() => expect(bench.result.current.scene?.note).toBe("1"));
    expect([bench.result.current.away, bench.result.current.error]).toEqual([null, null]);
    expect(server.of(`GET ${HERE}`)).toHaveLength(2);
  });

  it("asks for a first figure anew that did not come, and never for ever in vain", async () => {
    let away = true;
    serve({
      [`GET ${HERE}`]: state(1, titled("1")),
      [`POST ${HERE}/scene`]: () => (away ? refusal(503, "Away") : { ...figures.box.scene, note: "1" }),
    });
    const bench = renderHook(() => useWholeBench("c1"), { wrapper: around() });
    await waitFor(() => expect(bench.result.current.away).toBe("Away"));
    away = false;
    act(() => void window.dispatchEvent(new Event("online")));
    await waitFor(() => expect(bench.result.current.scene?.note).toBe("1"));
  });

  it("holds a newer change in the browser when an older one is refused", async () => {
    const { server, now } = await opened();
    const first = later<Response>();
    let times = 0;
    server.answer(`POST ${HERE}/trail`, () => {
      times += 1;
      return times === 1 ? first.promise : refusal(503, "Away").clone();
    });
    act(() => now().settle(titled("bad")));
    act(() => now().settle(titled("good")));
    first.give(refusal(422, "It cannot be drawn"));
    await waitFor(() => expect(now().unsaved).toBe("Away"));
    expect(heldDraft("c1")?.recipe.words.title).toBe("good");
  });

  it("asks for the password where the session ended, and goes on", async () => {
    const { server, now } = await opened();
    let over = true;
    server.answer(`POST ${HERE}/trail`, () =>
      over ? refusal(401, "You are not signed in") : state(2, titled("2")),
    );
    act(() => now().settle(titled("2")));
    await waitFor(() => expect(useSession.getState().over).toBe(true));
    over = false;
    act(goOn);
    await waitFor(() => expect([now().unsaved, now().comparison?.head]).toEqual([null, 2]));
  });

  it("never goes back to what an answer that comes late tells", async () => {
    const { now } = await opened();
    act(() => now().take(state(7, titled("newest"))));
    act(() => now().take(state(3, titled("late"))));
    expect(now().comparison?.revision).toBe(7);
  });

  it("shows what others changed, unless something of one's own is on the way", async () => {
    const { server, now, title, drawn } = await opened();
    server.answer(`GET ${HERE}/mark`, { mark: "other", others: [] });
    server.answer(`GET ${HERE}`, state(2, titled("theirs"), { mark: "other" }));
    act(() => now().preview(titled("in the hand")));
    await act(() => now().follow());
    expect([title(), server.of(`GET ${HERE}/mark`)]).toEqual(["in the hand", []]);
    const fresh = await opened();
    fresh.server.answer(`GET ${HERE}/mark`, { mark: "other", others: [] });
    fresh.server.answer(`GET ${HERE}`, state(2, titled("theirs"), { mark: "other" }));
    await act(() => fresh.now().follow());
    await waitFor(() => expect([fresh.title(), fresh.drawn()]).toEqual(["theirs", "theirs"]));
    expect(drawn()).toBeDefined();
  });

  it("makes whatever leaves wait for a form that was just chosen", async () => {
    const { now } = await opened();
    const slow = later<Recipe>();
    act(() => now().settleFrom(() => slow.promise, now().settle));
    const leaving = now().settledHead();
    slow.give(titled("in its form"));
    expect((await leaving)?.entry).toBe(2);
    expect(now().comparison?.recipe.words.title).toBe("in its form");
  });

  it("turns what is shown into a form anew where it changed meanwhile", async () => {
    const { now } = await opened();
    const slow = [later<Recipe>(), later<Recipe>()];
    const turned: (string | null)[] = [];
    act(() =>
      now().settleFrom((shown) => {
        turned.push(shown.words.title);
        return (slow[turned.length - 1] as (typeof slow)[0]).promise;
      }, now().settle),
    );
    await waitFor(() => expect(turned).toHaveLength(1));
    act(() => now().settle(titled("changed")));
    slow[0]?.give(titled("1 in its form"));
    await waitFor(() => expect(turned).toEqual(["1", "changed"]));
    slow[1]?.give(titled("changed, in its form"));
    await waitFor(() => expect(now().comparison?.recipe.words.title).toBe("changed, in its form"));
  });

  it("says what cannot be drawn and shows the settled state again", async () => {
    const { server, now, drawn } = await opened();
    const draw = ({ recipe }: { recipe: Recipe }) =>
      recipe.words.title === "bad" ? refusal(422, "No logarithm of zero") : { ...figures.box.scene, note: "good" };
    server.answer(`POST ${HERE}/scene`, draw);
    act(() => now().preview(titled("bad")));
    await waitFor(() => expect(useNotices.getState().notices[0]?.fault.what).toBe("No logarithm of zero"));
    await waitFor(() => expect(drawn()).toBe("good"));
  });
});
