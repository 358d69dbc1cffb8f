// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";

import { NumberField } from "./NumberField";

const field = () => screen.getByRole<HTMLInputElement>("textbox");
const type = (text: string) => fireEvent.change(field(), { target: { value: text } });

describe("a number field", () => {
  afterEach(cleanup);

  it("sends what was typed, as it was typed, once", async () => {
    const commit = vi.fn(() => Promise.resolve());
    render(<NumberField label="Radius" value="450" unit="mm" onCommit={commit} />);
    type("2 * 300");
    fireEvent.blur(field());
    await waitFor(() => expect(field().value).toBe("450"));
    expect(commit.mock.calls).toEqual([["2 * 300"]]);
  });

  it("says beside itself why it was refused, and shows what counts", async () => {
    render(<NumberField label="Radius" value="450" onCommit={() => Promise.reject(new Error("no such number"))} />);
    type("many");
    fireEvent.blur(field());
    expect((await screen.findByRole("alert")).textContent).toBe("“many” was not taken: no such number.");
    expect(field().value).toBe("450");
    expect(field().getAttribute("aria-invalid")).toBe("true");
    type("451");
    expect(screen.queryByRole("alert")).toBeNull();
  });

  it("keeps nothing on Escape, and sends nothing that was not changed", () => {
    const commit = vi.fn(() => Promise.resolve());
    render(<NumberField label="Radius" value="450" onCommit={commit} />);
    type("7");
    fireEvent.keyDown(field(), { key: "Escape" });
    fireEvent.focus(field());
    fireEvent.blur(field());
    expect(commit).not.toHaveBeenCalled();
    expect(field().value).toBe("450");
  });
});
