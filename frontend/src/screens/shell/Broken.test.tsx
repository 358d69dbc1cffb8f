// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { ErrorBoundary } from "react-error-boundary";
import { afterEach, expect, it, vi } from "vitest";

import { Broken } from "./Broken";

let broken = true;

function Screen() {
  if (broken) throw new Error("it is no number");
  return <p>the work</p>;
}

afterEach(cleanup);

it("a screen that breaks says so, and goes on where it can", () => {
  vi.spyOn(console, "error").mockImplementation(() => undefined);
  const onReset = vi.fn();
  render(
    <ErrorBoundary FallbackComponent={Broken} onReset={onReset}>
      <Screen />
    </ErrorBoundary>,
  );
  expect(screen.getByRole("alert").textContent).toContain("it is no number");
  expect(screen.getByText("To the projects").getAttribute("href")).toBe("/");
  broken = false;
  fireEvent.click(screen.getByText("Go on"));
  expect(onReset).toHaveBeenCalledOnce();
  expect(screen.getByText("the work")).toBeTruthy();
});
