// @vitest-environment jsdom
import { act, renderHook, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { ComparisonState, Recipe } from "../src/api/generated";
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
  return { id: "c1", head, revision: head, undo, redo: null, recipe, ...more } as ComparisonState;
}

/** A bench over a server that keeps every state it is sent. */
async function opened() {
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
  await waitFor(() => expect(bench.result.current.scene?.note).toBe("1"));
  const title = () => bench.result.current.recipe?.words.title;
  const drawn = () => bench.result.current.scene?.note;
  return { server, bench, title, drawn, now: () => bench.result.current };
}

describe("the bench", () => {
  beforeEach(() => useNotices.setState({ notices: [] }));
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

  it("keeps changes one after the other, each on the state that the one before made", async () => {
    const { server, now, title } = await opened();
    act(() => {
      now().settle(titled("2"));
      now().settle(titled("3"));
    });
    expect(title()).toBe("3");
    expect(await now().settledHead()).toBe(3);
    expect(server.of(`POST ${HERE}/trail`)).toEqual([
      { revision: 1, recipe: titled("2") },
      { revision: 2, recipe: titled("3") },
    ]);
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
    expect(await now().settledHead()).toBe(1);
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
    expect(await now().settledHead()).toBe(3);
    const kept = server.of(`POST ${HERE}/trail`) as { recipe: Recipe }[];
    expect(kept.map(({ recipe }) => recipe.words.title)).toEqual(["ab", "abc"]);
  });

  it("keeps what still rests when it is undone, exported or left", async () => {
    const { server, now, bench } = await opened();
    act(() => now().rest(titled("a"), "fence"));
    expect(await now().settledHead()).toBe(2);
    act(() => now().rest(titled("b"), "fence"));
    bench.unmount();
    await waitFor(() => expect(server.of(`POST ${HERE}/trail`)).toHaveLength(2));
  });

  it("says that somebody else was faster, puts the settled state back and can show theirs", async () => {
    const { server, now, title, drawn } = await opened();
    server.answer(`POST ${HERE}/trail`, refusal(409, "Somebody changed it"));
    act(() => now().settle(titled("mine")));
    await waitFor(() => expect(useNotices.getState().notices).toHaveLength(1));
    await waitFor(() => expect([title(), drawn()]).toEqual(["1", "1"]));
    server.answer(`GET ${HERE}`, state(2, titled("theirs")));
    const [notice] = useNotices.getState().notices;
    expect(notice?.action?.name).toBe("Show theirs");
    act(() => notice?.action?.run());
    await waitFor(() => expect([title(), drawn()]).toEqual(["theirs", "theirs"]));
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
