// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { ErrorBoundary } from "react-error-boundary";
import { afterEach, expect, it, vi } from "vitest";
import { Fallen } from "../src/ui/Fallen";

afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

it("says which part failed and why, leaves the others standing, and tries again", () => {
  vi.spyOn(console, "error").mockImplementation(() => undefined);
  let broken = true;
  const Part = () => {
    if (broken) throw new Error("no lanes");
    return <p>drawn</p>;
  };
  render(
    <>
      <p>the trail</p>
      <ErrorBoundary fallbackRender={(props) => <Fallen place="the sheet" {...props} />}>
        <Part />
      </ErrorBoundary>
    </>,
  );
  expect(screen.getByRole("alert").textContent).toContain("Something went wrong in the sheet: no lanes.");
  expect(screen.getByText("the trail")).toBeTruthy();
  broken = false;
  fireEvent.click(screen.getByRole("button", { name: "Try it again" }));
  expect(screen.getByText("drawn")).toBeTruthy();
});
