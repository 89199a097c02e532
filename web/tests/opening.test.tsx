// @vitest-environment jsdom
import { act, cleanup, render, renderHook, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Bench } from "../src/compare/Bench";
import { begin, opening } from "../src/compare/store/prefetch";
import { Miniature } from "../src/scene/Miniature";
import { useNotices } from "../src/ui/Notices";
import { figures } from "./figures";
import { around, later, refusal, serve } from "./serving";
import { useWholeBench } from "./wholeBench";

const STATE = { id: "c1", head: 1, revision: 1, undo: null, redo: null, recipe: figures.box.recipe };
const ASKED = ["GET comparisons/c1", "POST comparisons/c1/scene"];

beforeEach(() => useNotices.setState({ notices: [] }));
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

describe("opening a comparison", () => {
  it("begins with its state and figure before the page is there, and asks for neither again", async () => {
    const { asked } = serve({ "GET comparisons/c1": STATE, "POST comparisons/c1/scene": figures.box.scene });
    begin("/comparisons/c1");
    await waitFor(() => expect(asked.map(({ what }) => what)).toEqual(ASKED));
    const bench = renderHook(() => useWholeBench("c1"), { wrapper: around() });
    await waitFor(() => expect(bench.result.current.scene?.form).toBe("box"));
    expect(bench.result.current.comparison?.head).toBe(1);
    expect(asked).toHaveLength(2);
    bench.unmount();
    // Opened once more, it is asked anew.
    const again = renderHook(() => useWholeBench("c1"), { wrapper: around() });
    await waitFor(() => expect(again.result.current.scene).not.toBeNull());
    expect(asked.map(({ what }) => what)).toEqual([...ASKED, ...ASKED]);
  });

  it("begins with nothing on other pages, and with its own comparison only", async () => {
    const { asked } = serve({
      "GET comparisons/c2": { ...STATE, id: "c2" },
      "POST comparisons/c2/scene": figures.box.scene,
    });
    for (const address of ["/", "/tables/t1", "/comparisons", "/comparisons/c1/x"]) begin(address);
    expect(asked).toEqual([]);
    begin("/comparisons/c2");
    serve({ "GET comparisons/c1": STATE, "POST comparisons/c1/scene": figures.box.scene });
    expect((await opening("c1").comparison).id).toBe("c1");
  });

  it("asks beside it for what the page offers, so that forms can be chosen as soon as the figure is there", async () => {
    const state = later<typeof STATE>();
    const { asked } = serve({ "GET comparisons/c1": state.promise, "GET forms": refusal(404, "later") });
    render(<Bench id="c1" />, { wrapper: around() });
    await waitFor(() => expect(asked.map(({ what }) => what)).toContain("GET forms"));
  });

  it("says why it cannot be opened, once", async () => {
    serve({ "GET comparisons/c1": refusal(404, "There is nothing here") });
    begin("/comparisons/c1");
    const { result } = renderHook(() => useWholeBench("c1"), { wrapper: around() });
    await waitFor(() => expect(result.current.error?.message).toBe("There is nothing here"));
    expect(result.current.scene).toBeNull();
    // The page says it in its own place: no notice as well.
    expect(useNotices.getState().notices).toEqual([]);
  });
});

/** What brings the last element that is watched into sight. */
function watched(): () => void {
  let see: () => void = () => undefined;
  vi.stubGlobal(
    "IntersectionObserver",
    class {
      constructor(told: (entries: { isIntersecting: boolean }[]) => void) {
        see = () => told([{ isIntersecting: true }]);
      }
      observe = () => undefined;
      disconnect = () => undefined;
    },
  );
  return () => see();
}

describe("a state in small", () => {
  it("is asked for once it is in sight and nothing more urgent is on its way", async () => {
    const see = watched();
    const { promise, give } = later();
    const { asked } = serve({ "POST comparisons/c1/scene": () => promise });
    const wrapper = around();
    const small = (waits: boolean) => <Miniature comparison="c1" state={4} scale={1} waits={waits} />;
    const view = render(small(false), { wrapper });
    expect(asked).toEqual([]);
    view.rerender(small(true));
    act(see);
    expect(asked).toEqual([]);
    view.rerender(small(false));
    await waitFor(() => expect(asked.map(({ body }) => body)).toEqual([{ entry: 4, miniature: true }]));
    await act(async () => give(figures.box.scene));
    await waitFor(() => expect(view.container.querySelector("svg")).not.toBeNull());
  });

  it("says that files are being counted, and is asked for again until they are", async () => {
    const see = watched();
    let counted = false;
    serve({ "POST comparisons/c1/scene": () => (counted ? figures.box.scene : refusal(425, "1 of 4")) });
    const view = render(<Miniature comparison="c1" state="head" scale={1} />, { wrapper: around() });
    act(see);
    await view.findByText("being counted");
    counted = true;
    await waitFor(() => expect(view.container.querySelector("svg")).not.toBeNull());
    expect(view.queryByText("being counted")).toBeNull();
  });
});
