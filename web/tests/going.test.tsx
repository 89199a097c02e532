// @vitest-environment jsdom
import { act, renderHook, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { answer, api } from "../src/api/client";
import { fileName } from "../src/api/download";
import { lines } from "../src/api/lines";
import { choicesOf, dotsOf, millimetres, type PictureOptions } from "../src/compare/export/sheet";
import { addressOf, useExport } from "../src/compare/export/useExport";
import { studyName, useUpload } from "../src/studies/useUpload";
import { useNotices } from "../src/ui/Notices";
import { figures } from "./figures";
import { around, refusal, serve } from "./serving";

const PICTURE: PictureOptions = {
  kind: "png",
  page: "figure",
  width: 85,
  height: null,
  dpi: 300,
  clear: false,
  outlines: false,
};
const notices = () => useNotices.getState().notices.map(({ fault }) => fault.what);

beforeEach(() => {
  useNotices.setState({ notices: [] });
  vi.stubGlobal("URL", Object.assign(URL, { createObjectURL: () => "blob:x", revokeObjectURL: () => undefined }));
  vi.spyOn(HTMLAnchorElement.prototype, "click").mockImplementation(() => undefined);
});
afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

describe("what goes out", () => {
  it("asks for the sheet as it was chosen", () => {
    expect(choicesOf({ entry: 3, digest: "d3" }, PICTURE)).toEqual({
      dpi: "300",
      page: "figure",
      entry: "3",
      state: "d3",
      width: "85mm",
    });
    expect(choicesOf(null, { ...PICTURE, width: null, height: 60 })).toEqual({ dpi: "300", page: "figure" });
    const whole = { ...PICTURE, height: 60, clear: true, outlines: true, page: "key" as const };
    expect(choicesOf({ entry: 1, digest: "d1" }, whole)).toMatchObject({
      height: "60mm",
      clear: "true",
      text: "outlines",
      page: "key",
    });
    expect(addressOf("c1", "png", { width: "85mm" })).toBe("/api/comparisons/c1/export/png?width=85mm");
    expect(millimetres(72)).toBe(25.4);
    expect(dotsOf(PICTURE, figures.box.scene)).toBe("1 004 dots wide");
  });

  it("is fetched at once from few rows, and made by the worker from many", async () => {
    const done = { id: "o1", state: "done", done: 1, of: 1, name: "f.png", fault: null };
    const server = serve({
      "GET comparisons/c1/export/png?dpi=300": new Response("few"),
      "GET comparisons/c1/export/note?": new Response("note"),
      "POST file-jobs": done,
      "GET file-jobs/o1/file": new Response("many"),
    });
    const few = renderHook(() => useExport("c1", 49_999), { wrapper: around() });
    await act(() => few.result.current.save("png", { dpi: "300" }));
    const many = renderHook(() => useExport("c1", 50_000), { wrapper: around() });
    await act(() => many.result.current.save("png", { dpi: "300" }));
    await act(() => many.result.current.save("note", {}));
    expect(server.asked.map(({ what }) => what)).toEqual([
      "GET comparisons/c1/export/png?dpi=300",
      "POST file-jobs",
      "GET file-jobs/o1/file",
      "GET comparisons/c1/export/note?",
    ]);
    expect(server.of("POST file-jobs")).toEqual([
      { what: "export", comparison: "c1", kind: "png", choices: { dpi: "300" } },
    ]);
    expect(HTMLAnchorElement.prototype.click).toHaveBeenCalledTimes(3);
    expect(notices()).toEqual([]);
  });

  it("is followed, can be stopped, and stops when nobody waits any more", async () => {
    const working = { id: "o1", state: "working", done: 1, of: 3, name: "", fault: null };
    const server = serve({
      "POST file-jobs": working,
      "GET file-jobs/o1": working,
      "POST file-jobs/o1/stop": { ...working, state: "stopped" },
    });
    const { result, unmount } = renderHook(() => useExport("c1", 60_000), { wrapper: around() });
    act(() => void result.current.save("bundle", {}));
    await waitFor(() => expect(result.current.state).toMatchObject({ done: 1, of: 3 }));
    act(() => result.current.stop());
    await waitFor(() => expect(server.of("POST file-jobs/o1/stop")).toHaveLength(1));
    unmount();
    await waitFor(() => expect(server.of("POST file-jobs/o1/stop")).toHaveLength(2));
    expect(server.asked.some(({ what }) => what.endsWith("/file"))).toBe(false);
  });

  it("says why there is no file", async () => {
    const fault = { what: "Nothing is measured", where: "", remedy: "Choose a measure." };
    serve({ "POST file-jobs": { id: "o1", state: "refused", done: 0, of: 0, name: "", fault } });
    const { result } = renderHook(() => useExport("c1", 60_000), { wrapper: around() });
    await act(() => expect(result.current.save("bundle", {})).rejects.toThrow("Nothing is measured"));
    expect(result.current.state).toBeNull();
  });

  it("is saved where a part of it is missing, and says which", async () => {
    const fault = { what: "1 of 40 figures could not be drawn", where: "", remedy: "Ward C: no values." };
    serve({
      "POST file-jobs": { id: "o1", state: "done", done: 40, of: 40, name: "f.zip", fault },
      "GET file-jobs/o1/file": new Response("zip"),
    });
    const { result } = renderHook(() => useExport("c1", 60_000), { wrapper: around() });
    await act(() => result.current.save("bundle", {}));
    expect(HTMLAnchorElement.prototype.click).toHaveBeenCalledTimes(1);
    expect(notices()).toEqual([fault.what]);
  });
});

describe("what comes in", () => {
  const file = (size: number, name: string) => ({ ...new File(["x"], name), name, size }) as unknown as File;
  const hook = () => renderHook(() => useUpload(), { wrapper: around() }).result;
  const reading = {
    id: "u1",
    study: "s1",
    name: "a.csv",
    progress: 0.5,
    state: "reading",
    table: null,
    comparison: null,
  };

  it("is refused before it is sent where it is too large", async () => {
    const server = serve({ "GET session": { upload_megabytes: 2 } });
    const upload = hook();
    await act(() => upload.current.start(file(2_000_001, "a.csv"), "a.csv", { study: "s1" }));
    expect(notices()).toEqual(["The file is larger than the 2 MB allowed"]);
    expect(server.asked.map(({ what }) => what)).toEqual(["GET session"]);
  });

  it("is followed until it is read, and leads to its comparison", async () => {
    const read = { ...reading, state: "read", progress: 1, table: "t1", comparison: "c1" };
    const server = serve({
      "GET session": { upload_megabytes: 2 },
      "POST uploads?name=a%20b.csv&new_study=a%20b": reading,
      "GET uploads/u1": read,
    });
    const upload = hook();
    act(() => void upload.current.start(file(10, "a b.csv"), "a b.csv", { newStudy: studyName("a b.csv") }));
    await waitFor(() => expect(upload.current.state?.progress).toBe(0.5));
    await waitFor(() => expect(window.location.pathname).toBe("/comparisons/c1"));
    expect(upload.current.state).toBeNull();
    expect(server.asked).toHaveLength(3);
  });

  it("takes the study that was made for it away again where it cannot be read", async () => {
    const fault = { what: "The file is a picture", where: "", remedy: "Bring a table." };
    const server = serve({
      "GET session": { upload_megabytes: 2 },
      "POST uploads?name=a.csv&new_study=a": { ...reading, state: "refused", fault },
      "DELETE studies/s1?name=a": {},
    });
    const upload = hook();
    await act(() => upload.current.start(file(10, "a.csv"), "a.csv", { newStudy: "a" }));
    expect(server.of("DELETE studies/s1?name=a")).toHaveLength(1);
    expect(useNotices.getState().notices[0]?.fault).toMatchObject({
      what: "The file is a picture",
      where: "a.csv",
    });
  });

  it("offers to append several tables, each told by the file it came from", async () => {
    const steps = [{ step: "rename" }];
    const table = {
      id: "t1",
      name: "a.csv",
      study: "s1",
      newest: 4,
      outcome: { steps: steps.map((step) => ({ step })) },
    };
    const of = (name: string, id: string) => ({ ...reading, name, id, state: "read", table: id });
    const server = serve({
      "GET session": { upload_megabytes: 2 },
      "POST uploads?name=a.csv&study=s1": of("a.csv", "t1"),
      "POST uploads?name=b.csv&study=s1": of("b.csv", "t2"),
      "POST uploads?name=c.png&study=s1": refusal(422, "A picture"),
      "GET tables/t1": table,
      "GET studies/s1/tables": [{ id: "t1" }, { id: "t2", reference: { name: "b.csv" } }],
      "POST tables/t1/preparation": table,
    });
    const upload = hook();
    const files = ["a.csv", "c.png", "b.csv"].map((name) => file(10, name));
    await act(() => upload.current.startAll(files, { study: "s1" }));
    expect(notices()).toEqual(["A picture", "2 tables came in"]);
    act(() => useNotices.getState().notices[1]?.actions[0]?.run());
    await waitFor(() => expect(server.of("POST tables/t1/preparation")).toHaveLength(1));
    const append = { step: "append", on: true, table: { name: "b.csv" }, source: "file", here: "a.csv" };
    expect(server.of("POST tables/t1/preparation")).toEqual([{ revision: 4, steps: [...steps, append] }]);
  });
});

describe("a request", () => {
  it("carries the token of changes, and a refusal says what to do", async () => {
    const seen: Headers[] = [];
    vi.stubGlobal("fetch", async (request: Request) => {
      seen.push(request.headers);
      return refusal(403, "Not yours");
    });
    // biome-ignore lint/suspicious/noDocumentCookie: as the server sets it
    document.cookie = "csrftoken=abc123";
    await expect(answer(api.POST("/api/studies", { body: { name: "x" } }))).rejects.toMatchObject({
      status: 403,
      fault: { what: "Not yours" },
    });
    expect(seen[0]?.get("X-CSRFToken")).toBe("abc123");
    vi.stubGlobal("fetch", async () => new Response("<html>", { status: 502 }));
    await expect(answer(api.GET("/api/studies"))).rejects.toMatchObject({
      fault: { what: "The server did not answer" },
    });
    vi.stubGlobal("fetch", () => Promise.reject(new TypeError("gone")));
    await expect(answer(api.GET("/api/studies"))).rejects.toMatchObject({ status: 0 });
  });

  it("reads an answer line by line, wherever the network cuts it", async () => {
    const parts = ['{"done":1}\n{"do', 'ne":2}\n', '{"done":3}\n'];
    const body = new ReadableStream({
      start(stream) {
        for (const part of parts) stream.enqueue(new TextEncoder().encode(part));
        stream.close();
      },
    });
    const found: number[] = [];
    for await (const { done } of lines<{ done: number }>(body)) found.push(done);
    expect(found).toEqual([1, 2, 3]);
  });
});

describe("a file's name", () => {
  it.each([
    ['attachment; filename="Levels by ward.svg"', "Levels by ward.svg"],
    ["attachment; filename*=utf-8''Gr%C3%B6%C3%9Fe%20%C2%B5.svg", "Gr\u00f6\u00dfe \u00b5.svg"],
    ["attachment", "file"],
  ])("is read from %s", (header, name) => expect(fileName(header)).toBe(name));
});
